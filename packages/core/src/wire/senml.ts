// Records of SenML (RFC 8428): readings in a list, with base values that hold until the next.

/**
 * The value of a record, by its whole name or by its own: of several the latest, and of equal times the last. A record is
 * passed over where it has no value; a list with a field that has to be understood, and is not, says nothing.
 */
export function recordIn(json: unknown, name: string): unknown {
  let [baseName, baseTime, baseValue] = ["", 0, 0];
  let found: { readonly time: number; readonly value: unknown } | undefined;
  for (const record of Array.isArray(json) ? json : []) {
    if (typeof record !== "object" || record === null) continue;
    const { bn, bt, bv, n = "", t = 0, v, vs, vb } = record as Readonly<Record<string, unknown>>;
    if (Object.keys(record).some((field) => field.endsWith("_"))) return undefined;
    if (typeof bn === "string") baseName = bn;
    if (typeof bt === "number") baseTime = bt;
    if (typeof bv === "number") baseValue = bv;
    if (n !== name && `${baseName}${n}` !== name) continue;
    const value = typeof v === "number" ? baseValue + v : (vs ?? vb);
    const time = baseTime + (typeof t === "number" ? t : 0);
    if (value !== undefined && !(found && found.time > time)) found = { time, value };
  }
  return found?.value;
}
