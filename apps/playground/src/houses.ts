// Where houses come from and go to: examples, a folder of this machine, a link, the house of `modrik demo`, this browser.
import { strFromU8, strToU8, unzlibSync, zipSync, zlibSync } from "fflate";
import type { Files } from "./messages.js";

/** A house on the desk, and where it came from. */
export interface OpenedHouse {
  readonly name: string;
  readonly files: Files;
  readonly origin:
    | { readonly kind: "example" | "link" | "files" | "new" | "draft" }
    | { readonly kind: "folder"; readonly folder: FileSystemDirectoryHandle }
    /** Of the command that serves this page: saving writes its files. */
    | { readonly kind: "served" };
}

const texts = import.meta.glob<string>("../../../examples/{linden-yard,heron-cottage,night-oven,three-ways}/**/*.{modrik,ics}", {
  query: "?raw",
  import: "default",
});

/** Example houses that can be opened, by their folder or file, with what they show. */
export const examples = [
  { name: "Linden Yard", says: "a violin maker's barn, with sixty trials", under: "linden-yard/" },
  { name: "Heron Cottage", says: "warm by the hour its guests arrive", under: "heron-cottage/" },
  { name: "Night Oven", says: "a cupboard in which dough rises", under: "night-oven/" },
  { name: "Three ways: a target", says: "humidity by a target with a tolerance", under: "three-ways/target.modrik" },
  { name: "Three ways: two limits", says: "the same by two limits", under: "three-ways/two_limits.modrik" },
  { name: "Three ways: a fixed cycle", says: "the same by the clock", under: "three-ways/fixed_cycle.modrik" },
] as const;

/** @throws when the page's own files cannot be fetched */
export async function openExample(name: (typeof examples)[number]["name"]): Promise<OpenedHouse> {
  const { under } = examples.find((one) => one.name === name) as (typeof examples)[number];
  const root = `../../../examples/${under}`;
  const found = Object.entries(texts).filter(([path]) => path.startsWith(root));
  const files = await Promise.all(
    found.map(
      async ([path, read]) =>
        [under.endsWith("/") ? path.slice(root.length) : path.slice(path.lastIndexOf("/") + 1), await read()] as const,
    ),
  );
  return { name, files: Object.fromEntries(inOrder(files)), origin: { kind: "example" } };
}

/** Rules first, then what they are about, then trials. */
const order = [/^rules/, /^house/, /^physics/, /^wiring/, /^[^/]*$/, /./];
function inOrder<Entry extends readonly [string, string]>(files: readonly Entry[]): Entry[] {
  const rank = (name: string) => order.findIndex((one) => one.test(name));
  return [...files].sort(([a], [b]) => rank(a) - rank(b) || a.localeCompare(b));
}

export const sorted = (files: Files): Files => Object.fromEntries(inOrder(Object.entries(files)));

/** What may lie in the folder of a house and is read. */
export const isRead = (name: string) => /\.(modrik|ics|csv)$/.test(name);
/** A file that is larger is not a text of a house. */
const MOST_BYTES = 8_000_000;

// ── Folders and files of this machine ───────────────────────────────────────────────────────────────────────────────────

/** Whether folders can be opened and saved to; else files are read and downloaded. */
export const hasFolders = () => "showDirectoryPicker" in window;

/** @throws DOMException when nobody chose one, or it may not be read */
export async function openFolder(): Promise<OpenedHouse> {
  const folder = await (
    window as unknown as { showDirectoryPicker(options: object): Promise<FileSystemDirectoryHandle> }
  ).showDirectoryPicker({ mode: "readwrite" });
  const files: [string, string][] = [];
  const visit = async (place: FileSystemDirectoryHandle, path: string): Promise<void> => {
    for await (const [name, handle] of place as unknown as AsyncIterable<[string, FileSystemHandle]>) {
      if (name.startsWith(".") || name === "node_modules") continue;
      if (handle.kind === "directory") await visit(handle as FileSystemDirectoryHandle, `${path}${name}/`);
      else if (isRead(name)) {
        const file = await (handle as FileSystemFileHandle).getFile();
        if (file.size <= MOST_BYTES) files.push([`${path}${name}`, await file.text()]);
      }
    }
  };
  await visit(folder, "");
  return { name: folder.name, files: Object.fromEntries(inOrder(files)), origin: { kind: "folder", folder } };
}

/** Those that were chosen one by one, or with their folder. */
export async function openFiles(chosen: readonly File[]): Promise<OpenedHouse> {
  const read = chosen.filter(({ name, size }) => isRead(name) && size <= MOST_BYTES);
  const files = await Promise.all(
    read.map(async (file) => {
      const path = file.webkitRelativePath.split("/").slice(1).join("/");
      return [path || file.name, await file.text()] as const;
    }),
  );
  const [first] = chosen;
  const name = first?.webkitRelativePath.split("/")[0] || first?.name.replace(/\.modrik$/, "") || "House";
  return { name, files: Object.fromEntries(inOrder(files)), origin: { kind: "files" } };
}

/** Writes what changed, and nothing else. @throws DOMException when it may not be written */
export async function saveFolder(folder: FileSystemDirectoryHandle, files: Files, before: Files): Promise<string[]> {
  const changed = Object.entries(files).filter(([name, text]) => before[name] !== text);
  for (const [name, text] of changed) {
    const parts = name.split("/");
    let place = folder;
    for (const part of parts.slice(0, -1)) place = await place.getDirectoryHandle(part, { create: true });
    const handle = await place.getFileHandle(parts.at(-1) as string, { create: true });
    const stream = await handle.createWritable();
    await stream.write(text);
    await stream.close();
  }
  return changed.map(([name]) => name);
}

/** One file as it is, several in an archive. */
export function download(name: string, files: Files): void {
  const entries = Object.entries(files);
  const [[single, text] = ["", ""]] = entries;
  const plain = (of: string) => of.replace(/[^\p{L}\p{N}._-]+/gu, "-").toLowerCase();
  if (entries.length === 1) offer(single, text, "text/plain");
  else {
    const packed = zipSync(Object.fromEntries(entries.map(([file, of]) => [`${plain(name)}/${file}`, strToU8(of)])));
    offer(`${plain(name)}.zip`, packed as Uint8Array<ArrayBuffer>, "application/zip");
  }
}

export function offer(name: string, content: string | Uint8Array<ArrayBuffer>, type: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([content], { type }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

// ── Links ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

const LINK = "#house=";

/** An address of this page that holds the whole house: nothing of it is sent anywhere. */
export function linkOf(name: string, files: Files): string {
  const packed = zlibSync(strToU8(JSON.stringify({ name, files })), { level: 9 });
  let binary = "";
  for (const byte of packed) binary += String.fromCharCode(byte);
  const text = btoa(binary).replaceAll("+", "-").replaceAll("/", "_").replaceAll("=", "");
  return `${location.origin}${location.pathname}${LINK}${text}`;
}

/** The house of an address; undefined where it holds none. @throws Error when what it holds is damaged */
export function houseInLink(hash: string): OpenedHouse | undefined {
  if (!hash.startsWith(LINK)) return undefined;
  try {
    const binary = atob(hash.slice(LINK.length).replaceAll("-", "+").replaceAll("_", "/"));
    const { name, files } = JSON.parse(strFromU8(unzlibSync(Uint8Array.from(binary, (sign) => sign.charCodeAt(0))))) as {
      name?: unknown;
      files?: unknown;
    };
    const entries = Object.entries((files ?? {}) as Record<string, unknown>);
    if (
      typeof name !== "string" ||
      entries.length === 0 ||
      entries.some(([file, text]) => !isRead(file) || typeof text !== "string")
    )
      throw new Error("no house");
    return { name, files: sorted(Object.fromEntries(entries) as Files), origin: { kind: "link" } };
  } catch {
    throw new Error("This link holds no whole house: it may have been cut off. Ask for it again.");
  }
}

// ── The house of the command that serves this page ──────────────────────────────────────────────────────────────────────

const SERVED = "../house-files";

/** The house that `modrik demo` was given; undefined where this page is served by something else. */
export async function openServed(): Promise<OpenedHouse | undefined> {
  try {
    const answer = await fetch(SERVED, { headers: { accept: "application/json" } });
    if (answer.status !== 200 || !answer.headers.get("content-type")?.includes("json")) return undefined;
    const { name, files } = (await answer.json()) as { name: string; files: Files };
    return { name, files: sorted(files), origin: { kind: "served" } };
  } catch {
    return undefined;
  }
}

/** Saves what changed; what was changed elsewhere meanwhile is not overwritten. @throws Error in a sentence when it cannot */
export async function saveServed(files: Files, before: Files): Promise<string[]> {
  const changed = Object.keys(files).filter((name) => files[name] !== before[name]);
  for (const name of changed) {
    const answer = await fetch(SERVED, {
      method: "PUT",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ name, text: files[name], before: before[name] ?? null }),
    });
    if (!answer.ok) throw new Error(((await answer.json()) as { says?: string }).says ?? `${name} was not saved.`);
  }
  return changed;
}

// ── This browser ────────────────────────────────────────────────────────────────────────────────────────────────────────

const DRAFT = "modrik playground";

/** Kept so that a page that is closed loses nothing; with what it was written upon. */
export function keepDraft({ name, files }: Pick<OpenedHouse, "name" | "files">, base: Files): void {
  try {
    localStorage.setItem(DRAFT, JSON.stringify({ name, files, base }));
  } catch {
    // A browser without room keeps no draft; the page goes on.
  }
}

export function openDraft(): (OpenedHouse & { readonly base: Files }) | undefined {
  try {
    const { name, files, base } = JSON.parse(localStorage.getItem(DRAFT) ?? "null") as Record<"files" | "base", Files> & {
      name: string;
    };
    return { name, files, base, origin: { kind: "draft" } };
  } catch {
    return undefined;
  }
}

/** Hears when another tab of this browser keeps its draft in the place of this one's; gives what ends that. */
export function hearOtherDrafts(hear: () => void): () => void {
  const listen = ({ key, newValue }: StorageEvent) => {
    if (key === DRAFT && newValue !== null) hear();
  };
  addEventListener("storage", listen);
  return () => removeEventListener("storage", listen);
}

export const forgetDraft = () => localStorage.removeItem(DRAFT);
