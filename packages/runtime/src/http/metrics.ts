// Figures of a running house for a monitor, as OpenMetrics.
import { Counter, Gauge, type openMetricsContentType, Registry } from "prom-client";
import type { RunningHouse } from "../running-house.js";

/** Figures that are taken when they are asked for. */
export function metricsOf(running: RunningHouse): Registry<typeof openMetricsContentType> {
  const registry = new Registry<typeof openMetricsContentType>();
  registry.setContentType("application/openmetrics-text; version=1.0.0; charset=utf-8");
  const registers = [registry];
  const counted = {
    messages: "Messages that were heard.",
    unreadable: "Messages that were no reading of the sensor they are for.",
    commands: "Messages that were sent to devices.",
    notices: "Notices that people were told.",
    problems: "Problems that rules and sensors had.",
    commits: "Times that what happened was put on the disk.",
    failedCommits: "Times that the disk refused.",
  };
  for (const [name, help] of Object.entries(counted)) {
    const counter = new Counter({
      name: `modrik_${name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`)}_total`,
      help,
      registers,
      collect() {
        this.reset();
        this.inc(running.counts[name as keyof typeof counted]);
      },
    });
    void counter;
  }
  const gauge = (name: string, help: string, labelNames: string[], collect: (gauge: Gauge) => void) =>
    void new Gauge({
      name: `modrik_${name}`,
      help,
      labelNames,
      registers,
      collect() {
        this.reset();
        collect(this as unknown as Gauge);
      },
    });
  gauge("broker_up", "Whether the broker is there.", [], (one) => one.set(running.isUp ? 1 : 0));
  gauge("storage_up", "Whether the disk takes what happens.", [], (one) => one.set(running.refusedSince === undefined ? 1 : 0));
  gauge("value", "What a thing that is a number is, in its own unit.", ["thing", "unit"], (one) => {
    const { sensors, outputs, dials } = running.house;
    for (const { name, type } of [...sensors, ...outputs, ...dials]) {
      const value = type.kind === "number" ? running.value(name) : undefined;
      if (type.kind === "number" && typeof value === "number") one.set({ thing: name, unit: type.unit }, value);
    }
  });
  gauge("state", "Which of its words a thing is: 1 for the one, 0 for the others.", ["thing", "state"], (one) => {
    const { sensors, outputs, modes } = running.house;
    for (const { name, type } of [...sensors, ...outputs, ...modes]) {
      if (type.kind !== "words") continue;
      const value = running.value(name);
      for (const word of type.words) one.set({ thing: name, state: word }, value === word ? 1 : 0);
    }
  });
  return registry;
}
