// The rules as they are written: paused for a time, run by hand; presets, guards, and what is calculated.
import { Button, Select, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAct, Wrong } from "./acting.js";
import { ask, type Guard, type Let, type Preset, type Rule } from "./ask.js";
import { useHouse, useHouseTime, useMayAct, useTitle } from "./house.js";
import { momentOf } from "./say.js";
import { Why } from "./why.js";

export function RulesView() {
  const rules = useQuery({ queryKey: ["rules"], queryFn: () => ask<Rule[]>("/rules") });
  const presets = useQuery({ queryKey: ["presets"], queryFn: () => ask<Preset[]>("/presets") });
  const guards = useQuery({ queryKey: ["guards"], queryFn: () => ask<Guard[]>("/guards") });
  const lets = useQuery({ queryKey: ["lets"], queryFn: () => ask<Let[]>("/lets") });
  const [sought, setSought] = useState("");
  const matches = (...texts: readonly (string | undefined)[]) =>
    texts.some((text) => text?.toLowerCase().includes(sought.trim().toLowerCase()));
  const failed = [rules, presets, guards, lets].find(({ error }) => error)?.error;
  return (
    <>
      <TextInput
        className="seek"
        label="Find a rule, a thing or a word"
        value={sought}
        onChange={({ currentTarget }) => setSought(currentTarget.value)}
      />
      <Wrong error={failed} />
      <Listed
        title="Rules"
        items={(rules.data ?? []).filter(({ name, title, sentences }) => matches(name, title, ...sentences))}
        show={(rule) => <RuleEntry rule={rule} />}
      />
      <Listed
        title="Presets"
        items={(presets.data ?? []).filter(({ name, title, sets }) => matches(name, title, ...sets))}
        show={(preset) => <PresetEntry preset={preset} />}
      />
      <Listed
        title="Guards"
        items={(guards.data ?? []).filter(({ name, title, sentences }) => matches(name, title, ...sentences))}
        show={(guard) => <GuardEntry guard={guard} />}
      />
      <Listed
        title="What is reckoned"
        items={(lets.data ?? []).filter(({ name, title, means }) => matches(name, title, means))}
        show={(one) => <LetEntry one={one} />}
      />
    </>
  );
}

interface ListedProps<Item> {
  readonly title: string;
  readonly items: readonly Item[];
  readonly show: (item: Item) => React.ReactNode;
}

function Listed<Item extends { readonly name: string }>({ title, items, show }: ListedProps<Item>) {
  if (items.length === 0) return null;
  return (
    <section aria-labelledby={`list-${title}`}>
      <h2 id={`list-${title}`}>{title}</h2>
      <ul className="entries">
        {items.map((item) => (
          <li key={item.name}>{show(item)}</li>
        ))}
      </ul>
    </section>
  );
}

function Head({ name, title }: { readonly name: string; readonly title: string | undefined }) {
  return (
    <h3>
      {title ?? name.replaceAll("_", " ")} {title !== undefined && <code className="quiet">{name}</code>}
    </h3>
  );
}

const pauses = ["15 min", "1 h", "4 h", "1 d"];

function RuleEntry({ rule: { name, title, standing, sentences, paused, runnable, note } }: { readonly rule: Rule }) {
  const { now } = useHouse();
  const time = useHouseTime();
  const mayAct = useMayAct();
  const { act, isPending, error } = useAct();
  const [isOpen, setOpen] = useState(false);
  const called = title ?? name;
  const path = `/rules/${encodeURIComponent(name)}`;
  return (
    <>
      <Head name={name} title={title} />
      {standing !== "plain" && (
        <p className="quiet">{standing === "watch" ? "On watch: it asks for nothing." : `As ${standing}.`}</p>
      )}
      {note !== undefined && <p className="quiet">{note}</p>}
      <pre>{sentences.join("\n")}</pre>
      {paused && (
        <p className="doubtful">
          Paused {paused.until === null ? "until somebody resumes it" : `until ${momentOf(paused.until, now.house.clock, time)}`}.
        </p>
      )}
      <div className="fields">
        {paused ? (
          <Button
            size="xs"
            variant="default"
            disabled={!mayAct || isPending}
            onClick={() => act({ path: `${path}/pause`, method: "DELETE", says: `${called} goes on.` })}
          >
            Resume
          </Button>
        ) : (
          <Select
            size="xs"
            aria-label={`Pause ${called}`}
            placeholder="Pause…"
            value={null}
            disabled={!mayAct || isPending}
            data={[
              ...pauses.map((one) => ({ value: one, label: `for ${one}` })),
              { value: "", label: "until somebody resumes it" },
            ]}
            onChange={(lasts) =>
              lasts !== null &&
              act({
                path: `${path}/pause`,
                method: "PUT",
                body: lasts === "" ? {} : { lasts },
                says: `${called} is paused${lasts === "" ? "" : ` for ${lasts}`}.`,
              })
            }
          />
        )}
        {runnable && (
          <Button
            size="xs"
            variant="default"
            disabled={!mayAct || isPending || paused !== undefined}
            onClick={() => act({ path: `${path}/run`, method: "POST", body: {}, says: `The steps of ${called} were started.` })}
          >
            Run its steps now
          </Button>
        )}
        <Button size="xs" variant="subtle" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          Why
        </Button>
      </div>
      <Wrong error={error} />
      {isOpen && <Why of={name} follows="" />}
    </>
  );
}

function PresetEntry({ preset: { name, title, changes } }: { readonly preset: Preset }) {
  const say = useTitle();
  const mayAct = useMayAct();
  const { act, isPending, error } = useAct();
  const called = title ?? name;
  return (
    <>
      <Head name={name} title={title} />
      {changes.length === 0 ? (
        <p className="quiet">All of it is so already.</p>
      ) : (
        <table className="changes">
          <caption className="quiet">What it would change now</caption>
          <tbody>
            {changes.map(({ name: thing, now, then }) => (
              <tr key={thing}>
                <th scope="row">{say(thing)}</th>
                <td>{now}</td>
                <td aria-hidden="true">→</td>
                <td>
                  <strong>{then}</strong>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Button
        size="xs"
        variant="default"
        disabled={!mayAct || isPending || changes.length === 0}
        onClick={() =>
          act({ path: `/presets/${encodeURIComponent(name)}`, method: "POST", body: {}, says: `${called} is applied.` })
        }
      >
        Apply
      </Button>
      <Wrong error={error} />
    </>
  );
}

function GuardEntry({ guard: { name, title, sentences } }: { readonly guard: Guard }) {
  return (
    <>
      <Head name={name} title={title} />
      <pre>{sentences.join("\n")}</pre>
    </>
  );
}

function LetEntry({ one: { name, title, says, means } }: { readonly one: Let }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <h3>
        {title ?? name.replaceAll("_", " ")} <strong>{says}</strong>
      </h3>
      <pre>
        {name} = {means}
      </pre>
      <Button size="xs" variant="subtle" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        Why
      </Button>
      {isOpen && <Why of={name} follows="" />}
    </>
  );
}
