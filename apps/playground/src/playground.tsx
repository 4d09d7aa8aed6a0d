// The desk: which house lies on it, what is written, chosen and let happen, and what is looked at.
import { Button, useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { type ReactNode, useEffect, useState } from "react";
import { Desk } from "./desk.js";
import { FirstRule } from "./first-rule.js";
import { HouseMenu } from "./house-menu.js";
import {
  download,
  forgetDraft,
  hearOtherDrafts,
  houseInLink,
  keepDraft,
  linkOf,
  type OpenedHouse,
  openDraft,
  openExample,
  openFiles,
  openFolder,
  openServed,
  saveFolder,
  saveServed,
} from "./houses.js";
import type { Files } from "./messages.js";

/** A house, and how often one was opened: each opening begins again. */
interface Opened {
  readonly house: OpenedHouse;
  /** What is on the desk of it from the beginning on. */
  readonly files: Files;
  readonly number: number;
}

export function Playground() {
  const [opened, setOpened] = useState<Opened>();
  const [served, setServed] = useState<OpenedHouse>();
  const [files, setFiles] = useState<Files>({});
  const [said, setSaid] = useState<{ readonly text: string; readonly isWrong: boolean }>();
  const [isFirst, setFirst] = useState(false);
  const isChanged =
    opened !== undefined &&
    Object.keys({ ...files, ...opened.house.files }).some((name) => files[name] !== opened.house.files[name]);

  function open(house: OpenedHouse, draft?: Files): void {
    const now = draft ?? house.files;
    setFiles(now);
    setOpened((before) => ({ house, files: now, number: (before?.number ?? 0) + 1 }));
  }

  function openIfHouse(found: OpenedHouse): undefined {
    if (Object.keys(found.files).some((name) => name.endsWith(".modrik"))) return void open(found);
    throw new Error(`There is no .modrik file in "${found.name}". A house is a folder with files such as house.modrik.`);
  }

  /** What goes wrong is said, and nothing is lost. */
  async function tryTo(work: () => Promise<string | undefined>): Promise<void> {
    try {
      const text = await work();
      setSaid(text === undefined ? undefined : { text, isWrong: false });
    } catch (error) {
      if (error instanceof DOMException && error.name === "AbortError") return;
      setSaid({ text: (error as Error).message, isWrong: true });
    }
  }

  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the page opens
  useEffect(() => {
    void (async () => {
      const own = await openServed();
      setServed(own);
      try {
        const linked = houseInLink(location.hash);
        if (linked) return open(linked);
      } catch (error) {
        setSaid({ text: (error as Error).message, isWrong: true });
      }
      const draft = openDraft();
      // What was written upon other files than there are now is not saved over them: it keeps to those it was written upon.
      if (own) return draft?.name === own.name ? open({ ...own, files: draft.base }, draft.files) : open(own);
      if (draft) return open({ ...draft, files: draft.base }, draft.files);
      open(await openExample("Linden Yard"));
    })();
  }, []);

  // A link may be opened in a page that is open.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it hears for as long as the page is open
  useEffect(() => {
    const hear = () =>
      void tryTo(async () => {
        const linked = houseInLink(location.hash);
        if (linked) open(linked);
        return undefined;
      });
    addEventListener("hashchange", hear);
    return () => removeEventListener("hashchange", hear);
  }, []);

  // Of two tabs only one is opened again where it was left.
  useEffect(() => {
    if (!isChanged) return undefined;
    return hearOtherDrafts(() =>
      setSaid({
        text: "Another tab writes too, and this browser keeps one draft: what was written last. Save or download this one.",
        isWrong: true,
      }),
    );
  }, [isChanged]);

  if (!opened)
    return (
      <main className="waiting" role="status">
        <h1>Modrik</h1>
        <p className="quiet">Opening a house…</p>
      </main>
    );

  const { house } = opened;

  /** Another house takes its place: what is not saved would be gone. */
  const mayLeave = () =>
    !isChanged || confirm(`What you changed in ${house.name} is not saved. Open another house all the same?`);
  const instead = (work: () => Promise<undefined>) => void (mayLeave() && tryTo(work));

  function save(): void {
    void tryTo(async () => {
      const { origin } = house;
      const saved =
        origin.kind === "folder" ? await saveFolder(origin.folder, files, house.files) : await saveServed(files, house.files);
      setOpened((before) => before && { ...before, house: { ...before.house, files } });
      forgetDraft();
      return `Saved ${saved.join(", ")}.${origin.kind === "served" ? " The running house goes on with it." : ""}`;
    });
  }

  const menu: ReactNode = (
    <HouseMenu
      house={house}
      isChanged={isChanged}
      hasServed={served !== undefined}
      onExample={(name) => instead(async () => void open(await openExample(name)))}
      onFirst={() => mayLeave() && setFirst(true)}
      onServed={() => instead(async () => void open((await openServed()) ?? house))}
      onFolder={() => instead(async () => openIfHouse(await openFolder()))}
      onFiles={(chosen) => instead(async () => openIfHouse(await openFiles(chosen)))}
      onSave={save}
      onDownload={() => download(house.name, files)}
      onLink={() =>
        void tryTo(async () => {
          const link = linkOf(house.name, files);
          await navigator.clipboard.writeText(link);
          return `A link that holds the whole house is in the clipboard: ${link.length} signs.`;
        })
      }
      onNewFile={() => {
        const name = prompt("The name of the file, e.g. rules/kitchen.modrik", "more.modrik")?.trim();
        if (!name) return;
        const isNew = files[name] === undefined && /^[\p{L}\p{N}_./-]+\.modrik$/u.test(name) && !name.includes("..");
        if (isNew) setOpened((before) => before && { ...before, files: { ...files, [name]: "" }, number: before.number + 1 });
        else setSaid({ text: `"${name}" is no name for another file: it has to end in .modrik and be new.`, isWrong: true });
        if (isNew) setFiles({ ...files, [name]: "" });
      }}
    />
  );

  return (
    <Desk
      key={opened.number}
      name={house.name}
      initial={opened.files}
      onFiles={(now) => {
        setFiles(now);
        keepDraft({ name: house.name, files: now }, house.files);
      }}
      header={(busy) => (
        <header className="bar">
          <h1>Modrik</h1>
          {menu}
          <p className={said?.isWrong ? "wrong" : "quiet"} role="status">
            {said?.text ?? busy}
          </p>
          <ThemeSwitch />
        </header>
      )}
      dialogs={(tools) => (
        <FirstRule
          isOpen={isFirst}
          house={tools}
          onClose={() => setFirst(false)}
          onMade={(made) => {
            setFirst(false);
            open(made);
          }}
        />
      )}
    />
  );
}

function ThemeSwitch() {
  const theme = useComputedColorScheme("light");
  const { setColorScheme } = useMantineColorScheme();
  const other = theme === "light" ? "dark" : "light";
  return (
    <Button variant="subtle" size="compact-sm" onClick={() => setColorScheme(other)}>
      {other === "dark" ? "Night" : "Day"}
    </Button>
  );
}
