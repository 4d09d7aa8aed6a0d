// Colours: deep ink blue on warm paper, by night warm charcoal. Series colours are Okabe and Ito's set ("Color Universal
// Design", 2008), told apart by line style too; those too dark or too light for a ground are left out on it.

export type ThemeName = "light" | "dark";

export interface Theme {
  readonly ground: string;
  readonly ink: string;
  readonly quiet: string;
  readonly hairline: string;
  readonly accent: string;
  readonly series: readonly string[];
  /** Tints of stretches that stand side by side, such as the words of a mode. */
  readonly tints: readonly string[];
  /** What is as it should be, and what is not: told apart by their signs too. */
  readonly right: string;
  readonly wrong: string;
}

export const themes: Readonly<Record<ThemeName, Theme>> = {
  light: {
    ground: "#f4f7f0",
    ink: "#1d2b4f",
    quiet: "#666b66",
    hairline: "#dae1d3",
    accent: "#27408b",
    series: ["#0072b2", "#d55e00", "#009e73", "#cc79a7", "#e69f00"],
    tints: ["#c9d3ea", "#e3e8d5", "#d4d9d1", "#cfe3da"],
    right: "#00694c",
    wrong: "#a6340b",
  },
  dark: {
    ground: "#131a19",
    ink: "#e1e9e4",
    quiet: "#96a29c",
    hairline: "#2a3532",
    accent: "#8fa6e8",
    series: ["#56b4e9", "#e69f00", "#2bc39a", "#cc79a7", "#f0e442"],
    tints: ["#2f3f6a", "#3b4231", "#333a37", "#254a40"],
    right: "#5ecfa8",
    wrong: "#f0a07c",
  },
};

/** Behind colour: a curve of one panel is also told from its neighbours by its dashes. */
const dashes: readonly (string | number[])[] = ["solid", "dashed", [2, 3], [8, 3, 2, 3]];

/** How a curve is told from its neighbours. */
export interface CurveStyle {
  readonly name: string;
  readonly color: string;
  readonly dash: string | number[];
}

/** Curves of one panel differ in colour and in dashes. */
export function curveStyles({ series }: Theme, names: readonly string[]): CurveStyle[] {
  return names.map((name, place) => ({
    name,
    color: series[place % series.length] as string,
    dash: dashes[place % dashes.length] as string | number[],
  }));
}
