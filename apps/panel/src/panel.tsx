// The page: where one is, whether the house is heard, and the view.
import { Button, TextInput, useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { type FormEvent, lazy, Suspense, useEffect, useState } from "react";
import { ActsSaid } from "./acting.js";
import { keepToken, Refused } from "./ask.js";
import type { Connection } from "./events.js";
import { HouseProvider, useHouse, useHouseTime } from "./house.js";
import { LogView } from "./log.js";
import { NowView } from "./now.js";
import { PeopleView } from "./people.js";
import { hrefOf, usePlace, type ViewName, views } from "./place.js";
import { RulesView } from "./rules.js";
import { clockOf, dayOf } from "./say.js";
import { OpenThing } from "./thing.js";

export function Panel() {
  return (
    <HouseProvider waiting={(connection, error) => <Waiting connection={connection} error={error} />}>
      <ActsSaid>
        <Frame />
        <OpenThing />
      </ActsSaid>
    </HouseProvider>
  );
}

/** Drawing is half of the page, and is fetched when something is drawn. */
const HistoryView = lazy(async () => ({ default: (await import("./history.js")).HistoryView }));

const titles: Readonly<Record<ViewName, string>> = {
  now: "Now",
  rules: "Rules",
  history: "History",
  log: "Log",
  people: "People",
};

const shown: Readonly<Record<ViewName, () => React.ReactNode>> = {
  now: () => <NowView />,
  rules: () => <RulesView />,
  history: () => <HistoryView />,
  log: () => <LogView />,
  people: () => <PeopleView />,
};

function Frame() {
  const { now, connection } = useHouse();
  const [{ view }] = usePlace();
  useEffect(() => {
    document.title = `${titles[view]} · ${now.house.name}`;
  }, [view, now.house.name]);
  return (
    <div className="page" data-lost={connection.kind === "lost"}>
      <a className="skip" href="#content">
        To the content
      </a>
      <header className="bar">
        <h1>{now.house.name}</h1>
        <HouseClock />
        <nav aria-label="Views">
          <ul>
            {views.map((one) => (
              <li key={one}>
                <a href={hrefOf({ view: one })} aria-current={one === view ? "page" : undefined}>
                  {titles[one]}
                </a>
              </li>
            ))}
          </ul>
        </nav>
        <ThemeSwitch />
      </header>
      <Lost />
      <main id="content" tabIndex={-1}>
        <Suspense fallback={<p className="quiet">Opening…</p>}>{shown[view]()}</Suspense>
      </main>
    </div>
  );
}

function HouseClock() {
  const { now } = useHouse();
  const time = useHouseTime();
  const { clock, speed } = now.house;
  return (
    <p className="clock">
      <span className="quiet">{dayOf(time, clock)}</span> <strong>{clockOf(time, clock)}</strong>
      {speed !== 1 && <span className="quiet"> {speed}×</span>}
    </p>
  );
}

/** Says so while the house is not heard: what is seen is old then. */
function Lost() {
  const { connection, now } = useHouse();
  return (
    <div role="status" className="lost">
      {connection.kind === "lost" && (
        <p>
          Not connected since {clockOf(connection.since, Intl.DateTimeFormat().resolvedOptions().timeZone, true)}. What you see is
          of {clockOf(now.house.at, now.house.clock, true)}, and nothing can be changed. Trying again…
        </p>
      )}
    </div>
  );
}

function ThemeSwitch() {
  const { setColorScheme } = useMantineColorScheme();
  const other = useComputedColorScheme("light") === "light" ? "dark" : "light";
  return (
    <Button variant="subtle" size="compact-sm" onClick={() => setColorScheme(other)}>
      {other === "dark" ? "Night" : "Day"}
    </Button>
  );
}

interface WaitingProps {
  readonly connection: Connection;
  readonly error: unknown;
}

/** Before anything is known: why not. */
function Waiting({ connection, error }: WaitingProps) {
  if (error instanceof Refused && error.status === 401) return <AskToken />;
  return (
    <main className="waiting" role="status">
      <h1>Modrik</h1>
      {error instanceof Refused ? (
        <p className="wrong">
          {error.message} {error.remedy}
        </p>
      ) : connection.kind === "lost" || error ? (
        <p>The house cannot be reached. Trying again…</p>
      ) : (
        <p className="quiet">Asking the house…</p>
      )}
    </main>
  );
}

function AskToken() {
  const [token, setToken] = useState("");
  return (
    <main className="waiting">
      <h1>Modrik</h1>
      <p>From this device the house answers only with a token. Whoever runs the house can give you one.</p>
      <form
        className="fields"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          keepToken(token.trim());
          location.reload();
        }}
      >
        <TextInput label="Token" required value={token} onChange={({ currentTarget }) => setToken(currentTarget.value)} />
        <Button type="submit" disabled={token.trim() === ""}>
          Open
        </Button>
      </form>
    </main>
  );
}
