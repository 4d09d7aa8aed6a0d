// Who looks at the house and who may change it: oneself, and those who were given a token.
import { Button, SegmentedControl, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useAct, Wrong } from "./acting.js";
import { ask, forgetToken, keepWho, type Person, whoIsHere } from "./ask.js";
import { useHouse, useMayAct } from "./house.js";

export function PeopleView() {
  const { me } = useHouse();
  return (
    <>
      <section className="part" aria-labelledby="oneself">
        <h2 id="oneself">You</h2>
        {me.hasToken ? <Tokened /> : <Named />}
      </section>
      <Tokens />
    </>
  );
}

function Tokened() {
  const { me } = useHouse();
  return (
    <>
      <p>
        You are here as <strong>{me.name}</strong>, and may {me.may === "act" ? "look and act" : "look"}.
      </p>
      <Button
        variant="default"
        onClick={() => {
          forgetToken();
          location.reload();
        }}
      >
        Forget the token on this device
      </Button>
    </>
  );
}

function Named() {
  const [name, setName] = useState(whoIsHere());
  const [kept, setKept] = useState(name);
  return (
    <form
      className="fields"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        keepWho(name.trim());
        setKept(name.trim());
      }}
    >
      <TextInput
        label="Your name, for the log"
        value={name}
        maxLength={80}
        onChange={({ currentTarget }) => setName(currentTarget.value)}
      />
      <Button type="submit" disabled={name.trim() === kept}>
        Keep
      </Button>
    </form>
  );
}

interface Given {
  readonly name: string;
  readonly token: string;
}

function Tokens() {
  const mayAct = useMayAct();
  const { data, error } = useQuery({ queryKey: ["people"], queryFn: () => ask<Person[]>("/people") });
  const { act, isPending, error: refused, answer } = useAct();
  const [name, setName] = useState("");
  const [may, setMay] = useState("look");
  const given = answer as Given | undefined;
  return (
    <section className="part" aria-labelledby="tokens">
      <h2 id="tokens">Tokens</h2>
      <p className="quiet">
        On this machine nobody needs one. From elsewhere the house answers only where it was started with <code>--listen</code>,
        and then only to those who have a token.
      </p>
      <Wrong error={error ?? refused} />
      <ul className="entries">
        {(data ?? []).map((person) => (
          <li key={person.name} className="fields">
            <strong>{person.name}</strong> <span className="quiet">may {person.may === "act" ? "look and act" : "look"}</span>
            <Button
              size="compact-sm"
              variant="default"
              disabled={!mayAct || isPending}
              onClick={() =>
                act({
                  path: `/people/${encodeURIComponent(person.name)}`,
                  method: "DELETE",
                  says: `The token of ${person.name} opens nothing any more.`,
                })
              }
            >
              Take back
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="fields"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          act({ path: "/people", method: "POST", body: { name, may }, says: `${name} has a token.` });
        }}
      >
        <TextInput
          label="For whom"
          required
          value={name}
          disabled={!mayAct}
          onChange={({ currentTarget }) => setName(currentTarget.value)}
        />
        <SegmentedControl
          aria-label="What they may"
          value={may}
          onChange={setMay}
          disabled={!mayAct}
          data={[
            { value: "look", label: "only look" },
            { value: "act", label: "look and act" },
          ]}
        />
        <Button type="submit" disabled={!mayAct || name.trim() === ""} loading={isPending}>
          Give a token
        </Button>
      </form>
      {given?.token !== undefined && (
        <p>
          Shown this once. {given.name} opens this link: <br />
          <code className="token">{`${location.origin}${location.pathname}#token=${given.token}`}</code>
        </p>
      )}
    </section>
  );
}
