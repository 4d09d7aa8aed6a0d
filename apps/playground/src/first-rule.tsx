// From an annoyance to a proven rule: what annoys, in which room, by which numbers; its trial is run as one goes.
import { Button, Modal, NumberInput, Radio, TextInput } from "@mantine/core";
import { type FirstHouse, firstHouses, misfitsOfNumbers, writeFirstHouse } from "modrik/language";
import { useEffect, useMemo, useState } from "react";
import { type OpenedHouse, sorted } from "./houses.js";
import { Verdict } from "./trials.js";
import type { House } from "./use-house.js";

interface FirstRuleProps {
  readonly isOpen: boolean;
  readonly house: Pick<House, "proven" | "toJudge">;
  readonly onClose: () => void;
  readonly onMade: (house: OpenedHouse) => void;
}

export function FirstRule({ isOpen, house, onClose, onMade }: FirstRuleProps) {
  return (
    <Modal opened={isOpen} onClose={onClose} title="A first rule" size="xl" closeButtonProps={{ "aria-label": "Close" }}>
      <Questions house={house} onMade={onMade} />
    </Modal>
  );
}

function Questions({ house: { proven, toJudge }, onMade }: Pick<FirstRuleProps, "house" | "onMade">) {
  const [start, setStart] = useState<FirstHouse>();
  const [name, setName] = useState("My house");
  const [room, setRoom] = useState("Living room");
  const [numbers, setNumbers] = useState<Readonly<Record<string, number>>>({});
  const [asked, setAsked] = useState(0);
  const misfits = start ? misfitsOfNumbers(start, numbers) : [];
  const isNamed = name.trim() !== "" && room.trim() !== "";
  const isWrong = misfits.length > 0 || !isNamed;
  const files = useMemo(() => {
    if (!start || isWrong) return undefined;
    const { timeZone: clock } = Intl.DateTimeFormat().resolvedOptions();
    return writeFirstHouse(start, { house: name.trim(), room: room.trim(), clock, numbers });
  }, [start, name, room, numbers, isWrong]);
  useEffect(() => {
    if (files) setAsked(toJudge({ kind: "prove", files }));
  }, [files, toJudge]);
  const result = proven?.id === asked ? proven : undefined;
  return (
    <form
      className="first"
      onSubmit={(event) => {
        event.preventDefault();
        if (files) onMade({ name: name.trim(), files: sorted(files), origin: { kind: "new" } });
      }}
    >
      <Radio.Group
        label="What annoys you most?"
        value={start?.name ?? null}
        onChange={(chosen) => {
          setStart(firstHouses.find((one) => one.name === chosen));
          setNumbers({});
        }}
      >
        {firstHouses.map(({ name: value, annoyance }) => (
          <Radio key={value} value={value} label={annoyance} size="sm" />
        ))}
      </Radio.Group>
      {start && (
        <>
          <div className="fields">
            <TextInput
              label="Which room is it about?"
              size="xs"
              value={room}
              onChange={({ currentTarget }) => setRoom(currentTarget.value)}
            />
            <TextInput
              label="What is the house called?"
              size="xs"
              value={name}
              onChange={({ currentTarget }) => setName(currentTarget.value)}
            />
            {start.numbers.map(({ name: number, asks, unit, usual, low, high, step }) => (
              <NumberInput
                key={`${start.name} ${number}`}
                label={asks}
                size="xs"
                suffix={` ${unit}`}
                min={low}
                max={high}
                step={step}
                clampBehavior="none"
                value={numbers[number] ?? usual}
                onChange={(value) => typeof value === "number" && setNumbers((before) => ({ ...before, [number]: value }))}
              />
            ))}
          </div>
          {misfits.map((says) => (
            <p key={says} className="wrong" role="alert">
              {says}
            </p>
          ))}
          {files && (
            <>
              <p role="status">{result ? <Verdict trials={result.trials} isJudged /> : <span className="quiet">Trying…</span>}</p>
              <h3>The rule</h3>
              <pre>{files["rules.modrik"]}</pre>
              <h3>Its trial</h3>
              <pre>{files["trials/first.modrik"]}</pre>
            </>
          )}
          <Button type="submit" disabled={!files}>
            Go on with this house
          </Button>
        </>
      )}
    </form>
  );
}
