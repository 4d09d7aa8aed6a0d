// The page: the text of a house on the left, its simulated day on the right, redrawn as the text changes.
import { Button, SegmentedControl, useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { titleOf, type Value, type Zone } from "modrik";
import { useCallback, useEffect, useMemo, useState } from "react";
import { Day } from "./day.js";
import { Dials } from "./dials.js";
import { Editor } from "./editor.js";
import { firstFile, lindenYard } from "./linden-yard.js";
import type { Look, Remark } from "./messages.js";
import { State } from "./state.js";
import { useHouse } from "./use-house.js";
import { Why } from "./why.js";

const noZones: readonly Zone[] = [];

export function Playground() {
  const [files, setFiles] = useState(lindenYard);
  const [file, setFile] = useState(firstFile);
  const [weather, setWeather] = useState<string>();
  const [set, setSet] = useState<Readonly<Record<string, Value>>>({});
  const [goTo, setGoTo] = useState<{ at: number }>();
  const [size, setSize] = useState<{ width: number; height: number }>();
  const theme = useComputedColorScheme("light");
  const setup = useMemo(() => ({ files, set, ...(weather !== undefined && { weather }) }), [files, set, weather]);
  const [zone, setZone] = useState<string>();
  const look = useMemo((): Look | undefined => size && { theme, ...size, zone }, [size, theme, zone]);
  const { ask, colours, reading, findings, ran, chart, explained, explain, working } = useHouse(setup, file, look);
  const zones = reading?.zones ?? noZones;
  useEffect(() => setZone((before) => (zones.some(({ name }) => name === before) ? before : zones[0]?.name)), [zones]);
  const problems = useMemo(
    () => [...(reading?.problems ?? []), ...findings].filter(({ place }) => place.file === file),
    [reading, findings, file],
  );
  const hints = useMemo(() => reading?.hints?.filter((hint) => hint.file === file), [reading, file]);
  const onSize = useCallback((width: number, height: number) => setSize({ width, height }), []);

  function showProblem({ place }: Remark): void {
    setFile(place.file);
    setGoTo({ at: place.from });
  }

  return (
    <main className="page">
      <header className="bar">
        <h1>Modrik</h1>
        <p>Linden Yard, its rules and a simulated day. Change the text: the day follows.</p>
        <ThemeSwitch theme={theme} />
      </header>
      <section className="writing" aria-label="The house">
        <SegmentedControl
          className="choice"
          fullWidth
          radius={0}
          size="xs"
          aria-label="File"
          value={file}
          onChange={setFile}
          data={Object.keys(files).map((name) => ({ value: name, label: labelOf(name) }))}
        />
        <Editor
          file={file}
          text={files[file] ?? ""}
          problems={problems}
          hints={hints}
          colours={colours?.file === file ? colours : undefined}
          ask={ask}
          goTo={goTo}
          onChange={(text) => setFiles((before) => ({ ...before, [file]: text }))}
        />
        <State reading={reading} findings={findings} trials={ran?.trials} onProblem={showProblem} />
      </section>
      <section className="showing" aria-label="The simulated day">
        {zones.length > 1 && (
          <SegmentedControl
            className="choice"
            fullWidth
            radius={0}
            size="xs"
            aria-label="Zone"
            value={zone ?? ""}
            onChange={setZone}
            data={zones.map((one) => ({ value: one.name, label: titleOf(one) }))}
          />
        )}
        {reading && (
          <Dials
            zone={zone}
            reading={reading}
            weather={weather}
            set={set}
            onWeather={setWeather}
            onSet={(name, value) => setSet((before) => ({ ...before, [name]: value }))}
          />
        )}
        <Day chart={chart} stale={working || reading?.sound === false} onSize={onSize} onMoment={explain} />
        <Why explained={explained} />
      </section>
    </main>
  );
}

/** Files of the folder of trials go by their own names, so that all fit beside each other. */
function labelOf(file: string): string {
  return file.replace(/\.modrik$/, "").replace(/^trials\//, "");
}

function ThemeSwitch({ theme }: { theme: "light" | "dark" }) {
  const { setColorScheme } = useMantineColorScheme();
  const other = theme === "light" ? "dark" : "light";
  return (
    <Button variant="subtle" size="compact-sm" onClick={() => setColorScheme(other)}>
      {other === "dark" ? "Night" : "Day"}
    </Button>
  );
}
