import { describe, expect, test } from "vitest";
import type { Setup } from "../src/messages.js";
import { type Version, versionNames, withVersion } from "../src/versions.js";

const setupOf = (set: Setup["set"], files: Setup["files"] = { "a.modrik": "" }): Setup => ({ files, set, days: 1, acts: "" });
const labels = (versions: readonly Version[]) => versionNames(versions).map(({ label }) => label.replace(/^[\d:]+, /, ""));
const after = (...setups: readonly Setup[]) =>
  setups.reduce((versions: readonly Version[], setup, place) => withVersion(versions, setup, place), []);

describe("versions", () => {
  test("are named by what is new in them, the newest first, without the one on the desk", () => {
    const all = after(setupOf({}), setupOf({ "z.wish": 20 }), setupOf({ "z.wish": 20 }, { "a.modrik": "zone z" }), setupOf({}));
    expect(labels(all)).toEqual(["a.modrik", "z.wish 20", "as opened"]);
  });

  test("are none where nothing is new", () => {
    expect(labels(after(setupOf({}), setupOf({}), setupOf({})))).toEqual([]);
  });

  test("give way when there are many, but for what was opened", () => {
    const many = after(...Array.from({ length: 100 }, (_, place) => setupOf({ "z.wish": place })));
    expect(many).toHaveLength(40);
    expect(labels(many).filter((label) => label === "as opened")).toHaveLength(1);
    expect(versionNames(many).at(-1)?.value).toBe("1");
    expect(many.at(-1)?.setup.set).toEqual({ "z.wish": 99 });
    expect(new Set(many.map(({ id }) => id)).size).toBe(40);
  });
});
