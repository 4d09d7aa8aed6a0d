// One house on the desk: its text, its day or a trial, and what one does with them.
import { Button, SegmentedControl, Tabs, useComputedColorScheme } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import { momentAt } from "@modrik/look/moment";
import { titleOf, type Zone } from "modrik";
import { lazy, type ReactNode, Suspense, useCallback, useEffect, useEffectEvent, useMemo, useRef, useState } from "react";
import { ByHand } from "./by-hand.js";
import { Checks, readingsAt } from "./checks.js";
import { Compare } from "./compare.js";
import { withTrial } from "./kept-trial.js";
import type { Files, Link, Look, Setup, Subject } from "./messages.js";
import { Problems } from "./problems.js";
import { Recording } from "./recording.js";
import { Settings } from "./settings.js";
import { Trials, Verdict } from "./trials.js";
import { type House, useHouse } from "./use-house.js";
import { type Version, withVersion } from "./versions.js";
import { Why } from "./why.js";

/** Drawing and writing are most of the page. */
const drawing = () => import("@modrik/look/drawn");
const writing = () => import("./editor.js");
const Drawn = lazy(async () => ({ default: (await drawing()).Drawn }));
const Editor = lazy(async () => ({ default: (await writing()).Editor }));

interface DeskProps {
  readonly name: string;
  readonly initial: Files;
  readonly onFiles: (files: Files) => void;
  readonly header: (busy: string) => ReactNode;
  readonly dialogs: (house: House) => ReactNode;
}

const noZones: readonly Zone[] = [];
const DAYS: Subject = { kind: "days" };
/** How long one pauses until what is there counts as a version. */
const VERSION_MS = 1500;
const HEIGHT = 400;

export function Desk({ name, initial, onFiles, header, dialogs }: DeskProps) {
  const [setup, setSetup] = useState<Setup>({ files: initial, set: {}, days: 1, acts: "" });
  const [subject, setSubject] = useState<Subject>(DAYS);
  const [file, setFile] = useState(() => Object.keys(initial).find((one) => one.endsWith(".modrik")) ?? "");
  const [goTo, setGoTo] = useState<{ at: number }>();
  const [zone, setZone] = useState<string>();
  const [share, setShare] = useState(0.5);
  const [tab, setTab] = useState<string | null>("why");
  const [versions, setVersions] = useState<readonly Version[]>(() => withVersion([], setup, Date.now()));
  const [held, setHeld] = useState<Setup>();
  const [undone, setUndone] = useState<readonly string[]>([]);
  const theme = useComputedColorScheme("light");
  // The first chart comes from a worker, and finds what draws it there. What cannot be fetched is said where it is needed.
  useEffect(() => void drawing().catch(() => {}), []);
  const { ref, width } = useElementSize();
  // Beside it stand the values.
  const size = Math.max(280, Math.round((width > 640 ? width - 204 : width) / 10) * 10);
  const isSeen = width > 0;
  const height = size < 560 ? 620 : HEIGHT;
  const look = useMemo(
    (): Look | undefined => (isSeen ? { theme, width: size, height, zone } : undefined),
    [isSeen, theme, size, height, zone],
  );
  const house = useHouse(setup, subject, file, look);
  const { reading, ran, findings, trials, isJudged, isWorking, chart, toRunner, ask } = house;
  const zones = reading?.zones ?? noZones;

  useEffect(() => setZone((before) => (zones.some((one) => one.name === before) ? before : zones[0]?.name)), [zones]);
  // A trial is looked at where most of it happens.
  const trialZone =
    subject.kind === "trial" && ran?.subject.kind === "trial" && ran.subject.name === subject.name ? ran.zone : undefined;
  useEffect(() => {
    if (trialZone !== undefined) setZone(trialZone);
  }, [trialZone]);

  const change = useCallback((news: Partial<Setup>) => setSetup((before) => ({ ...before, ...news })), []);
  const { files } = setup;
  const tellFiles = useEffectEvent(onFiles);
  useEffect(() => {
    if (files !== initial) tellFiles(files);
  }, [files, initial]);

  const isSound = reading?.sound === true;
  useEffect(() => {
    if (!isSound) return;
    const timer = setTimeout(() => setVersions((before) => withVersion(before, setup, Date.now())), VERSION_MS);
    return () => clearTimeout(timer);
  }, [setup, isSound]);

  // What was explained is explained again of what is run now; so is what a click asked for.
  const thing = useRef<string>(undefined);
  const [isAsked, setAsked] = useState(false);
  const explain = useCallback(
    (at: number, of: string | undefined) => {
      thing.current = of;
      setShare(at);
      setAsked(true);
      toRunner({ kind: "explain", share: at, thing: of });
    },
    [toRunner],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again when something else was run or another zone is shown
  useEffect(() => {
    if (isAsked && ran) toRunner({ kind: "explain", share, thing: thing.current });
  }, [ran, zone]);

  // Whoever comes back to the day sees the zone they came from.
  const zoneBefore = useRef<string>(undefined);
  function lookAt(at: Subject): void {
    if (subject.kind === "days") zoneBefore.current = zone;
    else if (at.kind === "days") setZone(zoneBefore.current);
    setSubject(at);
  }

  function goToLink({ place }: Link): void {
    setFile(place.file);
    setGoTo({ at: place.from });
  }

  function act(acts: string): void {
    setUndone((before) => [...before.slice(-49), setup.acts]);
    change({ acts });
  }

  function keepTrial(trial: string, into: string, text: string): void {
    change({ files: { ...files, [into]: withTrial(files[into], text) }, acts: "" });
    lookAt({ kind: "trial", name: trial });
    setTab("trials");
  }

  const problems = useMemo(() => [...(reading?.problems ?? []), ...findings], [reading, findings]);
  const inFile = useMemo(() => problems.filter(({ place }) => place.file === file), [problems, file]);
  const hints = useMemo(() => reading?.hints?.filter((hint) => hint.file === file), [reading, file]);
  const stale = isWorking || reading?.sound === false;
  const at = ran ? momentAt(ran.from, ran.to, share) : 0;
  const readings = useMemo(() => readingsAt(chart?.readings ?? [], at), [chart, at]);
  const date = ran && subject.kind === "days" ? new Date(ran.from).toISOString().slice(0, 10) : "2026-01-15";
  const wrong = problems.filter(({ severity }) => severity === "error").length;

  const { progress } = house;
  const busy =
    progress !== undefined && isWorking
      ? `Running, ${Math.round(100 * progress)} %`
      : wrong > 0 || subject.kind !== "days"
        ? ""
        : (ran?.about ?? "");

  return (
    <>
      <a className="skip" href="#day">
        To the day
      </a>
      <main className="page">
        {header(busy)}
        <section className="writing" aria-label="The house">
          <SegmentedControl
            className="choice"
            radius={0}
            size="xs"
            aria-label="File"
            value={file}
            onChange={setFile}
            data={Object.keys(files).map((one) => ({ value: one, label: labelOf(one) }))}
          />
          <Suspense fallback={<p className="quiet">Opening the editor…</p>}>
            <Editor
              key={name}
              file={file}
              text={files[file] ?? ""}
              problems={inFile}
              hints={hints}
              colours={house.colours?.file === file ? house.colours : undefined}
              ask={ask}
              goTo={goTo}
              onChange={(text) => setSetup((before) => ({ ...before, files: { ...before.files, [file]: text } }))}
            />
          </Suspense>
          <div className="state">
            {house.fault !== undefined && (
              <p className="wrong" role="alert">
                A fault of this page: {house.fault}. What you wrote is kept; change it, or open the page again.
              </p>
            )}
            <p role="status">
              {reading?.sound === false ? (
                <span className="wrong">{wrong === 1 ? "One error" : `${wrong} errors`}: what is shown is from before.</span>
              ) : (
                <Verdict trials={trials} isJudged={isJudged} />
              )}
            </p>
            <Problems problems={problems} onProblem={({ place }) => goToLink({ label: "", place })} />
          </div>
        </section>
        <section className="showing" aria-label="The simulated day" id="day">
          <div className="above">
            <div className="looking">
              {zones.length > 1 && (
                <SegmentedControl
                  className="choice"
                  radius={0}
                  size="xs"
                  aria-label="Zone"
                  value={zone ?? ""}
                  onChange={setZone}
                  data={zones.map((one) => ({ value: one.name, label: titleOf(one) }))}
                />
              )}
            </div>
            {subject.kind !== "days" && (
              <p className="subject">
                <strong>{subject.kind === "trial" ? `Trial ${subject.name}` : "A recording"}</strong>{" "}
                <span className={ran?.notes.some((one) => one.startsWith("Not so")) ? "wrong" : "quiet"}>{ran?.about}</span>{" "}
                <Button size="compact-xs" variant="default" onClick={() => lookAt(DAYS)}>
                  Back to the day
                </Button>
              </p>
            )}
            {reading && subject.kind === "days" && (
              <Settings reading={reading} zone={zone} setup={setup} date={date} onSetup={change} />
            )}
            <div ref={ref} className="day" data-stale={stale}>
              {chart && (
                <Suspense fallback={<p className="quiet">Drawing…</p>}>
                  <Drawn
                    chart={chart}
                    label={
                      subject.kind === "trial"
                        ? "Moment of the trial; arrow keys move it"
                        : "Moment of the simulated day; arrow keys move it"
                    }
                    stale={stale}
                    share={share}
                    onShare={(next) => explain(next, thing.current)}
                    onChoose={(next, of) => {
                      // Where a curve is clicked, all that moves it is of interest.
                      const isCurve = reading?.things.some(
                        (one) => one.name === of && one.unit !== undefined && one.role === "sensor",
                      );
                      explain(next, isCurve ? undefined : of);
                      if (tab !== "hand") setTab("why");
                    }}
                    onThing={(of) => {
                      explain(share, of);
                      setTab("why");
                    }}
                  />
                </Suspense>
              )}
            </div>
            {ran && (ran.notes.length > 0 || ran.happened.length > 0) && (
              <div className="notes quiet">
                {ran.happened.length > 0 && subject.kind === "trial" && (
                  <ol aria-label="What happens">
                    {ran.happened.map(({ at: when, says }, place) => (
                      <li key={`${when} ${place}`}>
                        <button
                          type="button"
                          className="plain"
                          onClick={() => explain((when - ran.from) / (ran.to - ran.from), undefined)}
                        >
                          {says}
                        </button>
                      </li>
                    ))}
                  </ol>
                )}
                {ran.notes.map((one) => (
                  <p key={one} className={one.startsWith("Not so") ? "wrong" : undefined}>
                    {one}
                  </p>
                ))}
              </div>
            )}
          </div>
          <Tabs value={tab} onChange={setTab} className="tabs" keepMounted={false}>
            <Tabs.List>
              <Tabs.Tab value="why">Why</Tabs.Tab>
              <Tabs.Tab value="hand">By hand</Tabs.Tab>
              <Tabs.Tab value="trials">Trials</Tabs.Tab>
              <Tabs.Tab value="compare">Compare</Tabs.Tab>
              <Tabs.Tab value="recording">Recording</Tabs.Tab>
              <Tabs.Tab value="checks">Checks</Tabs.Tab>
            </Tabs.List>
            <Tabs.Panel value="why">
              <Why house={house} things={reading?.things ?? []} onLink={goToLink} onThing={(of) => explain(share, of)} />
            </Tabs.Panel>
            <Tabs.Panel value="hand">
              {reading && (
                <ByHand
                  house={house}
                  reading={reading}
                  ran={ran}
                  zone={zone}
                  share={share}
                  acts={setup.acts}
                  onActs={act}
                  canUndo={undone.length > 0}
                  onUndo={() => {
                    change({ acts: undone.at(-1) ?? "" });
                    setUndone((before) => before.slice(0, -1));
                  }}
                  files={files}
                  onKeep={keepTrial}
                />
              )}
            </Tabs.Panel>
            <Tabs.Panel value="trials">
              <Trials
                trials={trials}
                isJudged={isJudged}
                ran={ran}
                onTrial={(trial) => lookAt({ kind: "trial", name: trial })}
                onLink={goToLink}
              />
            </Tabs.Panel>
            <Tabs.Panel value="compare">
              {reading && (
                <Compare
                  house={house}
                  reading={reading}
                  setup={setup}
                  look={look}
                  versions={versions}
                  held={held}
                  onHold={setHeld}
                  onSet={(dial, value) => change({ set: { ...setup.set, [dial]: value } })}
                  onRestore={(before) => setSetup(before)}
                />
              )}
            </Tabs.Panel>
            <Tabs.Panel value="recording">
              {reading && <Recording house={house} reading={reading} ran={ran} onSubject={lookAt} />}
            </Tabs.Panel>
            <Tabs.Panel value="checks">
              <Checks
                house={house}
                problems={findings}
                readings={readings}
                onLink={goToLink}
                onProblem={({ place }) => goToLink({ label: "", place })}
              />
            </Tabs.Panel>
          </Tabs>
        </section>
      </main>
      {dialogs(house)}
    </>
  );
}

/** Files of the folder of trials are called by their own names, so that all fit next to each other. */
function labelOf(file: string): string {
  return file.replace(/\.modrik$/, "").replace(/^trials\//, "");
}
