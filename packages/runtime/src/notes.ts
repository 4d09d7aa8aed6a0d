// What a running house says of itself to those who run it.

/** How much it matters. */
export type Weight = "info" | "warn" | "error";

/** Something about the running house: not of what its rules do, but of how it fares. */
export interface RuntimeNote {
  readonly weight: Weight;
  /** In a few words what it is about, always the same for the same. */
  readonly about:
    | "start"
    | "stop"
    | "broker"
    | "storage"
    | "reading"
    | "output"
    | "clock"
    | "house"
    | "notice"
    | "http"
    | "problem";
  readonly text: string;
  readonly more?: Readonly<Record<string, unknown>>;
}

export type Says = (note: RuntimeNote) => void;
