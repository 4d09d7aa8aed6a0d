// How long a house with many rules is checked, and how that grows: ten times the rules, with ten times the findings, each
// shown by a run. `npm run bench -- checks [zones]`.
import { checkHouse, parseHouse } from "modrik";

const ZONES = Number(process.argv[2] ?? 200);
const RUNS = 3;

/** Three rules a zone; two of them switch at one point, one by the zone next door. */
function zoneText(zone: number, zones: number): string {
  const name = `z${zone}`;
  return `zone ${name} {
  sensor temperature: °C
  sensor humidity: %RH, 0..100 %RH
  sensor door: open/closed
  output heater: on/off
  output fan: on/off
  output blower: on/off
}
rule ${name}_warm { while ${name}.temperature below 20 °C hold ${name}.heater at on }
rule ${name}_dry { while ${name}.humidity above 60 %RH until below 50 %RH and ${name}.door is closed hold ${name}.fan at on }
rule ${name}_even { while ${name}.temperature above z${(zone + 1) % zones}.temperature hold ${name}.blower at on }`;
}

function checked(zones: number): { readonly ms: number; readonly findings: number } {
  const text = Array.from({ length: zones }, (_, zone) => zoneText(zone, zones)).join("\n");
  const runs = Array.from({ length: RUNS }, () => {
    // Read anew each time: what is worked out of a house is kept with it.
    const { house } = parseHouse({ "many.modrik": `house "Many" { clock "UTC" readings last 15 min }\n${text}` });
    const begun = performance.now();
    const findings = checkHouse(house).length;
    return { ms: performance.now() - begun, findings };
  });
  return runs.sort((a, b) => a.ms - b.ms)[RUNS >> 1] as (typeof runs)[number];
}

const few = checked(ZONES / 10);
const many = checked(ZONES);
const say = (zones: number, { ms, findings }: typeof few) =>
  `${3 * zones} rules, ${findings} findings: ${(ms / 1000).toFixed(2)} s, ${(ms / findings).toFixed(1)} ms each`;
console.log(say(ZONES / 10, few));
console.log(`${say(ZONES, many)}: ${(many.ms / few.ms).toFixed(1)} × as long for ten times the rules`);
