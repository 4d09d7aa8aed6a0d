// Things described by others (W3C Web of Things, Thing Description 1.1) with forms over MQTT, as text of a house: its zones,
// sensors, outputs and wiring.
import { formatHouse, isSound, parseHouse, readUnit, type Unit } from "modrik";
import { FormatError } from "./format-error.js";

/** A house made of things. */
export interface ReadThings {
  readonly text: string;
  /** What of the descriptions is not in it, and why. */
  readonly notes: readonly string[];
}

type Json = Readonly<Record<string, unknown>>;

/** Whether a text is a description of a thing, or a list of them. */
export function isThingDescription(text: string): boolean {
  try {
    const json: unknown = JSON.parse(text);
    return thingsIn(json).length > 0;
  } catch {
    return false;
  }
}

/**
 * Reads one description, or a list of them.
 * @throws FormatError when it is not a description of a thing, or nothing of it speaks MQTT
 */
export function readThings(text: string): ReadThings {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new FormatError(`It is not JSON: ${(error as Error).message}.`);
  }
  const things = thingsIn(json);
  if (things.length === 0) throw new FormatError("It is not a W3C Thing Description: it has no properties, actions or events.");
  const notes: string[] = [];
  const names = new Names();
  const zones = things.map((thing) => zoneOf(thing, names, notes));
  const wired = zones.flatMap(({ wiring }) => wiring);
  if (wired.length === 0) throw new FormatError("Nothing of it has a form over MQTT.");
  const title = things.length === 1 ? titleIn(things[0] as Json) : "Things";
  const house = [
    `house ${quoted(title)} { clock "UTC" readings last 1 h }`,
    ...zones
      .filter(({ things: inside }) => inside.length > 0)
      .map(({ name, title: own, things: inside }) => `zone ${name} ${quoted(own)} {\n${inside.join("\n")}\n}`),
    `wire mqtt {\n${wired.join("\n")}\n}`,
  ].join("\n\n");
  const { text: formatted } = formatHouse(house);
  const parsed = parseHouse({ "house.modrik": formatted });
  if (!isSound(parsed)) throw new FormatError(`It cannot be put into words: ${parsed.problems[0]?.reason}`);
  return { text: formatted, notes };
}

function thingsIn(json: unknown): Json[] {
  const list = Array.isArray(json) ? json : [json];
  return list.filter(
    (one): one is Json =>
      isObject(one) &&
      typeof one.title === "string" &&
      (isObject(one.properties) || isObject(one.actions) || isObject(one.events)),
  );
}

interface ZoneText {
  readonly name: string;
  readonly title: string;
  readonly things: string[];
  readonly wiring: string[];
}

/** What a form over MQTT says. */
interface MqttForm {
  readonly topic: string;
  readonly ways: ReadonlySet<"hear" | "tell">;
  readonly isJson: boolean;
  readonly retained: boolean;
}

function zoneOf(thing: Json, names: Names, notes: string[]): ZoneText {
  const title = titleIn(thing);
  const zone: ZoneText = { name: names.free(title), title, things: [], wiring: [] };
  const base = typeof thing.base === "string" ? thing.base : "";
  const left = (what: string, because: string) => notes.push(`${title}: ${what} is left out: ${because}`);
  const own = new Names();
  for (const [key, property] of entriesOf(thing.properties)) {
    const forms = formsOf(property, base, ["readproperty", "writeproperty", "observeproperty"]);
    const heard = forms.find(({ ways }) => ways.has("hear"));
    const told = property.readOnly === true ? undefined : forms.find(({ ways }) => ways.has("tell"));
    if (!heard && !told) left(`property ${key}`, "it has no form over MQTT");
    else if (told) addOutput(zone, own, key, property, told, heard, left);
    else if (heard) addSensor(zone, own, key, property, heard, left);
  }
  for (const [key, event] of entriesOf(thing.events)) {
    const heard = formsOf(event, base, ["subscribeevent"]).find(({ ways }) => ways.has("hear"));
    if (!heard) left(`event ${key}`, "it has no form over MQTT");
    else if (isObject(event.data)) addSensor(zone, own, key, event.data, heard, left, titleOf(event));
    else {
      const name = `${zone.name}.${own.free(key)}`;
      zone.things.push(`sensor ${name.slice(zone.name.length + 1)}${titled(titleOf(event), key)}: press`);
      zone.wiring.push(`${name} from ${quoted(heard.topic)}`);
    }
  }
  for (const [key, action] of entriesOf(thing.actions)) {
    const told = formsOf(action, base, ["invokeaction"]).find(({ ways }) => ways.has("tell"));
    if (!told) left(`action ${key}`, "it has no form over MQTT");
    else if (isObject(action.input)) addOutput(zone, own, key, action.input, told, undefined, left, titleOf(action));
    else left(`action ${key}`, "it has no state that an output could have; send it from a rule instead");
  }
  return zone;
}

type Left = (what: string, because: string) => void;

function addSensor(
  zone: ZoneText,
  own: Names,
  key: string,
  schema: Json,
  form: MqttForm,
  left: Left,
  title = titleOf(schema),
): void {
  const parts = schema.type === "object" ? entriesOf(schema.properties).map(([part, inner]) => [part, inner] as const) : [];
  if (schema.type === "object") {
    // A message that holds several readings: a sensor each.
    for (const [part, inner] of parts)
      addReading(
        zone,
        own,
        `${key}_${part}`,
        inner,
        form,
        left,
        titleOf(inner),
        `/${part.replaceAll("~", "~0").replaceAll("/", "~1")}`,
      );
    if (parts.length === 0) left(key, "it does not say what its object holds");
  } else addReading(zone, own, key, schema, form, left, title, form.isJson && schema.type !== "string" ? "" : undefined);
}

function addReading(
  zone: ZoneText,
  own: Names,
  key: string,
  schema: Json,
  form: MqttForm,
  left: Left,
  title: string | undefined,
  at: string | undefined,
): void {
  const kind = kindOf(key, schema);
  if (!kind) return left(key, `values of type ${String(schema.type)} are nothing a sensor can read`);
  const name = own.free(key);
  const pointer = at === undefined || at === "" ? "" : ` at ${quoted(at)}`;
  const words = kind.words ? ` reading ${kind.words.map(({ text, word }) => `${quoted(text)} as ${word}`).join(", ")}` : "";
  zone.things.push(`sensor ${name}${titled(title, key)}: ${kind.type}${kind.range ?? ""}`);
  zone.wiring.push(`${zone.name}.${name} from ${quoted(form.topic)}${pointer}${words}`);
}

function addOutput(
  zone: ZoneText,
  own: Names,
  key: string,
  schema: Json,
  told: MqttForm,
  heard: MqttForm | undefined,
  left: Left,
  title = titleOf(schema),
): void {
  const kind = kindOf(key, schema);
  if (!kind) return left(key, `values of type ${String(schema.type)} are nothing an output can be`);
  const name = own.free(key);
  const words = kind.words ? ` writing ${kind.words.map(({ text, word }) => `${word} as ${quoted(text)}`).join(", ")}` : "";
  const confirmed = heard && heard.topic !== told.topic ? ` confirmed by ${quoted(heard.topic)}` : "";
  const [low] = kind.bounds ?? [0];
  const rest = kind.words || low <= 0 ? "" : `, at rest ${low}${kind.unit === "" ? "" : ` ${kind.unit}`}`;
  zone.things.push(`output ${name}${titled(title, key)}: ${kind.type}${kind.range ?? ""}${rest}`);
  zone.wiring.push(`${zone.name}.${name} to ${quoted(told.topic)}${words}${confirmed}${told.retained ? " retained" : ""}`);
}

interface Kind {
  readonly type: string;
  readonly unit?: Unit;
  readonly range?: string;
  readonly bounds?: readonly [number, number];
  readonly words?: readonly { readonly text: string; readonly word: string }[];
}

function kindOf(key: string, schema: Json): Kind | undefined {
  const { type, enum: listed, minimum, maximum, unit } = schema;
  if (type === "boolean")
    return {
      type: "on/off",
      words: [
        { text: "true", word: "on" },
        { text: "false", word: "off" },
      ],
    };
  if (Array.isArray(listed) && listed.length >= 2 && listed.every((one) => typeof one === "string")) {
    const names = new Names();
    const words = (listed as string[]).map((text) => ({ text, word: names.free(text) }));
    return { type: words.map(({ word }) => word).join("/"), words };
  }
  if (type !== "number" && type !== "integer") return undefined;
  const known = unitOf(key, unit);
  if (typeof minimum !== "number" || typeof maximum !== "number" || !(minimum < maximum))
    return { type: known === "" ? "number" : known, unit: known };
  const bounds = [minimum, maximum] as const;
  return { type: `${minimum}..${maximum}${known === "" ? "" : ` ${known}`}`, unit: known, bounds };
}

/** Units as descriptions name them: by a vocabulary (OM, QUDT), by UCUM, or as people write them. */
const unitNames: Readonly<Record<string, Unit>> = {
  celsius: "°C",
  degreecelsius: "°C",
  degree_celsius: "°C",
  deg_c: "°C",
  cel: "°C",
  c: "°C",
  fahrenheit: "°F",
  degreefahrenheit: "°F",
  deg_f: "°F",
  lux: "lx",
  lx: "lx",
  percent: "%",
  percentage: "%",
  ppm: "ppm",
  watt: "W",
  w: "W",
  kilowatt: "kW",
};

function unitOf(key: string, unit: unknown): Unit {
  if (typeof unit !== "string") return "";
  const own = unit.split(/[:/#]/).at(-1) ?? unit;
  const found = unitNames[own.toLowerCase()] ?? readUnit(unit) ?? readUnit(own) ?? "";
  return found === "%" && /humid|damp|moist/i.test(key) ? "%RH" : found;
}

const hears = new Set(["readproperty", "observeproperty", "subscribeevent"]);

function formsOf(affordance: Json, base: string, usual: readonly string[]): MqttForm[] {
  const forms = Array.isArray(affordance.forms) ? affordance.forms.filter(isObject) : [];
  return forms.flatMap((form): MqttForm[] => {
    const { href = "", op = usual, contentType = "application/json" } = form;
    const address = mqttAddress(String(href), base);
    if (!address) return [];
    const packet = String(form["mqv:controlPacket"] ?? form["mqv:controlPacketValue"] ?? "").toLowerCase();
    const said = form["mqv:filter"] ?? form["mqv:topic"] ?? decodeURIComponent(address.pathname.replace(/^\/+/, ""));
    const topic = Array.isArray(said) ? String(said[0]) : String(said);
    if (topic === "" || /[#+]/.test(topic)) return [];
    const ways = new Set<"hear" | "tell">();
    for (const one of Array.isArray(op) ? op : [op]) if (packet === "") ways.add(hears.has(String(one)) ? "hear" : "tell");
    if (packet === "subscribe") ways.add("hear");
    if (packet === "publish") ways.add("tell");
    return [
      {
        topic,
        ways,
        isJson: /json/.test(String(contentType)),
        retained: form["mqv:retain"] === true || form["mqv:retain"] === "true",
      },
    ];
  });
}

function mqttAddress(href: string, base: string): URL | undefined {
  try {
    const address = base === "" ? new URL(href) : new URL(href, base);
    return /^mqtts?:$/.test(address.protocol) ? address : undefined;
  } catch {
    return undefined;
  }
}

/** Names that the language takes, each once. */
class Names {
  readonly #taken = new Set<string>();

  free(said: string): string {
    const plain = said
      .replace(/([a-z0-9])([A-Z])/g, "$1_$2")
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "_")
      .replace(/^_+|_+$/g, "");
    const begun = /^[a-z]/.test(plain) ? plain : `thing_${plain}`;
    const name = isName(begun) ? begun : `${begun}_state`;
    let free = name;
    for (let number = 2; this.#taken.has(free); number++) free = `${name}_${number}`;
    this.#taken.add(free);
    return free;
  }
}

/** Whether it can be the name of a zone, of a thing in it, and of a state. */
function isName(word: string): boolean {
  const text = `house "h" { clock "UTC" } zone ${word} { sensor ${word}: ${word}/other_${word} }`;
  return parseHouse({ "h.modrik": text }).problems.every(({ severity }) => severity !== "error");
}

const entriesOf = (json: unknown): (readonly [string, Json])[] =>
  isObject(json) ? Object.entries(json).flatMap(([key, value]) => (isObject(value) ? [[key, value] as const] : [])) : [];
const isObject = (json: unknown): json is Json => typeof json === "object" && json !== null && !Array.isArray(json);
const titleOf = ({ title }: Json): string | undefined => (typeof title === "string" && title !== "" ? title : undefined);
const titleIn = (thing: Json): string => titleOf(thing) ?? "Thing";
const titled = (title: string | undefined, key: string) => (title === undefined || title === key ? "" : ` ${quoted(title)}`);
/** As the language writes a text. */
const quoted = (text: string) =>
  `"${text.replaceAll("\\", "\\\\").replaceAll('"', '\\"').replaceAll("{", "\\{").replaceAll("\n", " ")}"`;
