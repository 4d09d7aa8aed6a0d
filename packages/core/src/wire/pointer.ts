// A place in JSON (RFC 6901).

/** What a pointer such as `/air/temperature` or `/readings/0` points at; undefined where there is nothing. */
export function pointed(json: unknown, pointer: string): unknown {
  if (pointer !== "" && !pointer.startsWith("/")) return undefined;
  let found = json;
  for (const part of pointer.split("/").slice(1)) {
    const key = part.replaceAll("~1", "/").replaceAll("~0", "~");
    // Of a list only its items: 0, 1, 2, without zeros before them.
    if (Array.isArray(found) && !/^(?:0|[1-9]\d*)$/.test(key)) return undefined;
    if (typeof found !== "object" || found === null || !Object.hasOwn(found, key)) return undefined;
    found = (found as Record<string, unknown>)[key];
  }
  return found;
}
