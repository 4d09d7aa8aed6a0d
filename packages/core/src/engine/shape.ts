// What stored JSON looks like, checked before it is believed.

/** Throws where a value is not of its shape; `path` is a JSON Pointer (RFC 6901) to it. */
export type Shape = (value: unknown, path: string) => void;

function fail(value: unknown, path: string, wanted: string): never {
  const found = value === undefined ? "nothing" : (JSON.stringify(value)?.slice(0, 40) ?? typeof value);
  throw new RangeError(`at ${path === "" ? "its beginning" : path} there is ${found}, not ${wanted}`);
}

function of(wanted: string, fits: (value: unknown) => boolean): Shape {
  return (value, path) => {
    if (!fits(value)) fail(value, path, wanted);
  };
}

export const number = of("a number", Number.isFinite);
export const instant = of("a whole number of milliseconds", Number.isSafeInteger);
export const text = of("a text", (value) => typeof value === "string");
export const flag = of("true or false", (value) => typeof value === "boolean");
export const known = orNull(number);

export function orNull(shape: Shape): Shape {
  return (value, path) => {
    if (value !== null) shape(value, path);
  };
}

export function list(shape: Shape): Shape {
  return (value, path) => {
    if (!Array.isArray(value)) fail(value, path, "a list");
    value.forEach((item, index) => {
      shape(item, `${path}/${index}`);
    });
  };
}

export function tuple(...shapes: readonly Shape[]): Shape {
  return (value, path) => {
    if (!Array.isArray(value) || value.length !== shapes.length) fail(value, path, `a list of ${shapes.length}`);
    for (const [index, shape] of shapes.entries()) shape(value[index], `${path}/${index}`);
  };
}

/** Values of one shape by names of their own. */
export function named(shape: Shape): Shape {
  return (value, path) => {
    for (const [name, item] of entries(value, path)) shape(item, below(path, name));
  };
}

/** Further fields are left alone: a later version may know them. */
export function fields(shapes: Readonly<Record<string, Shape>>): Shape {
  return (value, path) => {
    const found = new Map(entries(value, path));
    for (const [name, shape] of Object.entries(shapes)) shape(found.get(name), below(path, name));
  };
}

/** One of several shapes; what is wrong is told by the last. */
export function either(...shapes: readonly Shape[]): Shape {
  return (value, path) => {
    const fits = shapes.slice(0, -1).some((shape) => {
      try {
        shape(value, path);
        return true;
      } catch {
        return false;
      }
    });
    if (!fits) shapes.at(-1)?.(value, path);
  };
}

function entries(value: unknown, path: string): [string, unknown][] {
  if (typeof value !== "object" || value === null || Array.isArray(value)) fail(value, path, "an object");
  return Object.entries(value);
}

function below(path: string, name: string): string {
  return `${path}/${name.replaceAll("~", "~0").replaceAll("/", "~1")}`;
}
