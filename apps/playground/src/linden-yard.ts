// The demo house as it is shipped: names of its files → their text.
const texts = import.meta.glob<string>("../../../examples/linden-yard/**/*.modrik", {
  query: "?raw",
  import: "default",
  eager: true,
});

export const lindenYard: Readonly<Record<string, string>> = Object.fromEntries(
  Object.entries(texts).map(([path, text]) => [path.replace(/^.*linden-yard\//, ""), text]),
);

/** The file one sees first. */
export const firstFile = "rules.modrik";
