// The way to devices over MQTT (OASIS MQTT 3.1.1 and 5): through a broker, which may be away for a while.
import type { Hears, OutgoingMessage } from "modrik";
import mqtt, { type IClientOptions, type IPublishPacket, type MqttClient } from "mqtt";
import type { Link } from "../link.js";
import type { Says } from "../notes.js";

/** Where the broker is, and how it lets one in. */
export interface BrokerOptions {
  /** mqtt://, mqtts://, ws:// or wss://; without user or password. */
  readonly url: string;
  /** The same each time, so that the broker knows who comes back. */
  readonly clientId: string;
  readonly user?: string | undefined;
  readonly password?: string | undefined;
  /** Certificates, in PEM: whom to trust, and who one is. */
  readonly ca?: string | undefined;
  readonly cert?: string | undefined;
  readonly key?: string | undefined;
  /** A topic on which "yes" stands as long as one is there, and "no" from then on. */
  readonly lifeSign?: string | undefined;
  readonly says: Says;
}

/** After a failure it is tried again in so many milliseconds; each further time in twice as many, up to the last. */
const FIRST_RETRY = 1000;
const LAST_RETRY = 60_000;
/** So many milliseconds are given to what is under way when it ends. */
const LAST_WORD = 2000;
/** A message of more bytes is not looked at. */
const LONGEST = 64 * 1024;
/** Who is away for longer is told no more of what was said meanwhile, where the broker speaks MQTT 5. */
const SESSION = 3600;

const readText = new TextDecoder("utf-8", { fatal: true });

/** A link over MQTT. */
export class MqttLink implements Link {
  readonly #options: BrokerOptions;
  readonly #told: ((isUp: boolean) => void)[] = [];
  readonly #listeners: { readonly topics: readonly string[]; readonly hears: Hears }[] = [];
  #client: MqttClient | undefined;
  /** 4 is MQTT 3.1.1. A broker that refuses it is asked in MQTT 5. */
  #version: 4 | 5 = 4;
  #retry = FIRST_RETRY;
  #retries: NodeJS.Timeout | undefined;
  #saidAway = false;
  #ended = false;
  /** Who waits for a message to arrive. */
  readonly #underWay = new Set<(error: Error) => void>();
  isUp = false;

  constructor(options: BrokerOptions) {
    this.#options = options;
    this.#connect();
  }

  #connect(): void {
    const { url, clientId, user, password, ca, cert, key, lifeSign } = this.#options;
    const options: IClientOptions = {
      clientId,
      clean: false,
      protocolVersion: this.#version,
      // We try again ourselves, ever more slowly.
      reconnectPeriod: 0,
      connectTimeout: 10_000,
      keepalive: 30,
      queueQoSZero: false,
      ...(user !== undefined && { username: user }),
      ...(password !== undefined && { password }),
      ...(ca !== undefined && { ca }),
      ...(cert !== undefined && { cert }),
      ...(key !== undefined && { key }),
      ...(lifeSign !== undefined && { will: { topic: lifeSign, payload: Buffer.from("no"), qos: 1, retain: true } }),
      ...(this.#version === 5 && { properties: { sessionExpiryInterval: SESSION } }),
    };
    const client = mqtt.connect(url, options);
    this.#client = client;
    client.on("connect", () => this.#came(client));
    client.on("message", (topic, payload, packet) => this.#hear(topic, payload, packet));
    client.on("error", (error) => this.#failed(error));
    client.on("close", () => this.#went(client));
  }

  #came(client: MqttClient): void {
    this.#retry = FIRST_RETRY;
    this.#saidAway = false;
    const topics = this.#listeners.flatMap((one) => one.topics);
    const up = () => {
      if (client !== this.#client || this.isUp || this.#ended) return;
      this.isUp = true;
      const { lifeSign } = this.#options;
      if (lifeSign !== undefined) void this.publish({ topic: lifeSign, text: "yes", retained: true }).catch(() => {});
      for (const told of this.#told) told(true);
    };
    if (topics.length === 0) up();
    else this.#askFor(client, topics).then(up, (error: Error) => this.#failed(error));
  }

  async #askFor(client: MqttClient, topics: readonly string[]): Promise<void> {
    const granted = await client.subscribeAsync(Object.fromEntries(topics.map((topic) => [topic, { qos: 1 as const }])));
    // What a broker does not let one hear would be silent for ever.
    const refused = granted.filter(({ qos }) => (qos as number) >= 128).map(({ topic }) => topic);
    if (refused.length > 0)
      this.#options.says({ weight: "error", about: "broker", text: `the broker does not let us hear ${refused.join(", ")}` });
  }

  #hear(topic: string, payload: Buffer, { retain }: IPublishPacket): void {
    const { says } = this.#options;
    if (payload.length > LONGEST) {
      says({
        weight: "warn",
        about: "reading",
        text: `a message of ${payload.length} bytes on ${topic} is passed over: ${LONGEST} are the most`,
      });
      return;
    }
    let text: string;
    try {
      text = readText.decode(payload);
    } catch {
      says({ weight: "warn", about: "reading", text: `a message on ${topic} is passed over: it is no text (UTF-8)` });
      return;
    }
    for (const { topics, hears } of [...this.#listeners]) if (topics.includes(topic)) hears(topic, text, retain);
  }

  #failed(error: Error & { readonly code?: unknown }): void {
    // The broker does not speak MQTT 3.1.1.
    if (this.#version === 4 && error.code === 1) this.#version = 5;
    if (this.#saidAway || this.#ended) return;
    this.#saidAway = true;
    const remedy =
      error.code === 4 || error.code === 5 || error.code === 134 || error.code === 135
        ? " Set MODRIK_MQTT_USER and MODRIK_MQTT_PASSWORD."
        : "";
    this.#options.says({
      weight: "warn",
      about: "broker",
      text: `${this.#options.url} does not answer: ${saysOf(error)}.${remedy}`,
    });
  }

  #went(client: MqttClient): void {
    if (client !== this.#client || this.#ended) return;
    client.removeAllListeners();
    client.on("error", () => {});
    client.end(true);
    const wasUp = this.isUp;
    this.isUp = false;
    this.#loseAll();
    if (wasUp) for (const told of this.#told) told(false);
    // Some earlier or later than others, so that not a whole town comes back at once.
    const wait = this.#retry * (0.75 + 0.5 * Math.random());
    this.#retry = Math.min(LAST_RETRY, this.#retry * 2);
    this.#retries = setTimeout(() => this.#connect(), wait);
  }

  async subscribe(topics: readonly string[], hears: Hears): Promise<() => void> {
    const listener = { topics: [...topics], hears };
    this.#listeners.push(listener);
    const client = this.#client;
    if (this.isUp && client && topics.length > 0) await this.#askFor(client, topics);
    return () => {
      const place = this.#listeners.indexOf(listener);
      if (place >= 0) this.#listeners.splice(place, 1);
      const unheard = topics.filter((topic) => !this.#listeners.some((one) => one.topics.includes(topic)));
      if (this.isUp && unheard.length > 0) void this.#client?.unsubscribeAsync([...unheard]).catch(() => {});
    };
  }

  async publish({ topic, text, retained }: OutgoingMessage): Promise<void> {
    const client = this.#client;
    if (!this.isUp || !client) throw new Error("the broker is away");
    // When the broker goes away meanwhile, nobody may wait for ever.
    await new Promise<void>((arrived, lost) => {
      this.#underWay.add(lost);
      const done = () => this.#underWay.delete(lost);
      client.publish(topic, text, { qos: 1, retain: retained === true }, (error) => {
        done();
        if (error) lost(error);
        else arrived();
      });
    });
  }

  onTurn(told: (isUp: boolean) => void): void {
    this.#told.push(told);
    if (this.isUp) told(true);
  }

  async end(): Promise<void> {
    const { lifeSign } = this.#options;
    if (this.isUp && lifeSign !== undefined) await this.publish({ topic: lifeSign, text: "no", retained: true }).catch(() => {});
    const wasUp = this.isUp;
    this.#ended = true;
    this.isUp = false;
    clearTimeout(this.#retries);
    const client = this.#client;
    if (!client) return;
    const ended = client.endAsync(!wasUp).catch(() => {});
    const forced = setTimeout(() => client.end(true), LAST_WORD);
    await Promise.race([ended, new Promise((done) => setTimeout(done, 2 * LAST_WORD).unref())]);
    clearTimeout(forced);
    this.#loseAll();
  }

  #loseAll(): void {
    const error = new Error("the broker went away");
    for (const lost of this.#underWay) lost(error);
    this.#underWay.clear();
  }
}

function saysOf(error: Error & { readonly code?: unknown; readonly errors?: readonly Error[] }): string {
  // An address that was tried in several ways fails with all their errors.
  return error.message || error.errors?.[0]?.message || String(error.code ?? "no answer");
}
