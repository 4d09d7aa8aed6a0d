// The library that follows recurrence rules: a module to bundlers, a script with a default to Node.
import * as library from "rrule";

const script = Reflect.get(library, "default") as typeof library | undefined;

export const { RRule } = script ?? library;
