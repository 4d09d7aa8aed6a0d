// Why something is as it is, and why it is not otherwise: in sentences, each resting on those under it.
import { Button, SegmentedControl } from "@mantine/core";
import { unbroken } from "@modrik/look/unbroken";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { Wrong } from "./acting.js";
import { ask, type Explanation, queryOf } from "./ask.js";

/** A sentence, and what it rests on. */
export function Sentences({ of }: { readonly of: readonly Explanation[] }) {
  if (of.length === 0) return null;
  return (
    <ul className="sentences">
      {of.map(({ says, because }, place) => (
        <li key={place}>
          <span>{unbroken(says)}</span>
          <Sentences of={because} />
        </li>
      ))}
    </ul>
  );
}

interface WhyProps {
  readonly of?: string;
  readonly notice?: number;
  /** An instant; without, now. */
  readonly at?: string;
  /** Asked again as this changes, and now and then. */
  readonly follows?: string;
}

/** Asks the house. */
export function Why({ of, notice, at, follows }: WhyProps) {
  const { data, error } = useQuery({
    queryKey: ["why", of, notice, at, follows],
    queryFn: () => ask<Explanation>(`/why${queryOf({ of, notice, at })}`),
    refetchInterval: follows === undefined ? false : 10_000,
    placeholderData: keepPreviousData,
  });
  if (error) return <Wrong error={error} />;
  if (!data) return <p className="quiet">Asking…</p>;
  return <Sentences of={[data]} />;
}

/** What an output is not, and why not. */
export function WhyNot({ of, words, value }: { readonly of: string; readonly words: readonly string[]; readonly value: string }) {
  const others = words.filter((word) => word !== value);
  const [not, setNot] = useState<string>();
  const asked = not ?? (others.length === 1 ? others[0] : undefined);
  const [isOpen, setOpen] = useState(false);
  const label = useId();
  const { data, error } = useQuery({
    queryKey: ["why not", of, asked ?? ""],
    queryFn: () => ask<Explanation>(`/why${queryOf({ of, not: asked ?? "" })}`),
    enabled: isOpen,
    placeholderData: keepPreviousData,
  });
  return (
    <section className="part">
      <h3 id={label}>Why not {others.length === 1 ? others[0] : "something else"}?</h3>
      {others.length > 1 && isOpen && (
        <SegmentedControl size="xs" aria-labelledby={label} data={others} value={asked ?? ""} onChange={setNot} />
      )}
      {isOpen ? (
        error ? (
          <Wrong error={error} />
        ) : (
          data && <Sentences of={[data]} />
        )
      ) : (
        <Button variant="default" size="xs" onClick={() => setOpen(true)}>
          Ask
        </Button>
      )}
    </section>
  );
}
