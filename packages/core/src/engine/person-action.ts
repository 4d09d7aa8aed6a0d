// What a person does to a running house, as plain data.
import type { Value } from "../house/index.js";

/** What a person does. */
export type PersonAction =
  /**
   * Switches an output by hand, for so many milliseconds, or until somebody releases it; without, until a mode changes or
   * `hand lasts` is over.
   */
  | { readonly kind: "switches"; readonly output: string; readonly value: Value; readonly lasts?: number | "until released" }
  | { readonly kind: "releases"; readonly output: string }
  | { readonly kind: "pauses"; readonly rule: string; readonly lasts?: number }
  | { readonly kind: "resumes"; readonly rule: string }
  | { readonly kind: "applies"; readonly preset: string }
  /** Starts a countdown, again where it runs; for so many milliseconds, or for as long as it usually lasts. */
  | { readonly kind: "starts"; readonly countdown: string; readonly lasts?: number }
  | { readonly kind: "stops"; readonly countdown: string }
  /** Runs the first `do` of a rule, whatever its `provided` says; a paused rule does nothing. */
  | { readonly kind: "runs"; readonly rule: string };
