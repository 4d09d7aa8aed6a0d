// A running house over HTTP: to those on this machine, and with a token to those who have it.
import { networkInterfaces } from "node:os";
import compress from "@fastify/compress";
import rateLimit from "@fastify/rate-limit";
import staticFiles from "@fastify/static";
import fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from "fastify";
import type { z } from "zod";
import { ArchiveBusy } from "../archive/archive.js";
import type { Says } from "../notes.js";
import { type RunningHouse, StorageRefused } from "../running-house.js";
import type { HouseFile, Person } from "../storage/house-file.js";
import { metricsOf } from "./metrics.js";
import { openApi } from "./openapi.js";
import { Prepared, Refusal, type Route, routes } from "./routes.js";
import { eventsAsked } from "./shapes.js";
import { Streams } from "./stream.js";
import { type HouseTexts, TEXT_BODY, TextsRefused, textWritten } from "./texts.js";
import { firstToken, personOf } from "./token.js";
import { View } from "./view.js";

export interface HttpOptions {
  readonly running: RunningHouse;
  readonly file: HouseFile;
  readonly version: string;
  /** Where it listens. @default 127.0.0.1 */
  readonly host?: string;
  /** 0 takes any free one. @default 0 */
  readonly port?: number;
  /** Requests in a minute from one address, the files of pages apart. @default 1200 */
  readonly mostRequests?: number;
  /** Told of what goes wrong in here. */
  readonly says?: Says;
  /** Pages in folders, served at addresses such as `/panel`; who asks for none gets the first. */
  readonly pages?: readonly Page[];
  /** Its texts, where a page may write them. */
  readonly texts?: HouseTexts | undefined;
}

/** A page, as it was built. */
export interface Page {
  readonly at: `/${string}`;
  readonly folder: string;
}

/** A house that is listened to. */
export interface HttpHouse {
  readonly address: string;
  readonly app: FastifyInstance;
  /** Shown once: the house keeps only its hash. Where none is needed, or it was shown before, nothing. */
  readonly token: string | undefined;
  end(): Promise<void>;
}

const LOOPBACK = new Set(["127.0.0.1", "::1", "localhost"]);
const MOST_STREAMS = 64;
const BODY = 16 * 1024;

/** Nothing of ours may be embedded, guessed at, or loaded from elsewhere. */
const headers = {
  "content-security-policy":
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'",
  "cross-origin-opener-policy": "same-origin",
  "cross-origin-resource-policy": "same-origin",
  "referrer-policy": "no-referrer",
  "x-content-type-options": "nosniff",
  "x-frame-options": "DENY",
};

/** Listens. @throws when the address is taken */
export async function serveHouse(options: HttpOptions): Promise<HttpHouse> {
  const {
    running,
    file,
    version,
    host = "127.0.0.1",
    port = 0,
    mostRequests = 1200,
    pages = [],
    texts,
    says = () => {},
  } = options;
  const isOpen = !LOOPBACK.has(host);
  const app = fastify({
    bodyLimit: BODY,
    exposeHeadRoutes: true,
    requestTimeout: 30_000,
    connectionTimeout: 60_000,
    routerOptions: { maxParamLength: 400 },
    forceCloseConnections: true,
    // A name that cannot stand in an address is no fault of ours.
    frameworkErrors: (error, _, reply) => void answerWrong(error, reply as unknown as FastifyReply, says),
  });
  const view = new View(running, file, version);
  const streams = new Streams(view);
  view.streams = streams;
  await app.register(compress, { threshold: 2048, encodings: ["gzip", "deflate"] });
  await app.register(rateLimit, {
    max: mostRequests,
    timeWindow: "1 minute",
    // A page is many files, and who opened pages often would see this answer in the place of one.
    allowList: (request) => isPage(pathOf(request), pages),
    errorResponseBuilder: (_, { after }) =>
      Object.assign(new Error(`Too many requests: go on in ${after}.`), { statusCode: 429 }),
  });
  const hosts = hostsOf(host);
  app.addHook("onRequest", async (request, reply) => {
    reply.headers(headers);
    // What is built may be kept by a browser; what the house says may not.
    if (!isPage(pathOf(request), pages)) reply.header("cache-control", "no-store");
    checkPlace(request, hosts);
    const person = personIn(request, file);
    people.set(request, person);
    const isOfAll = request.routeOptions.url === "/healthz" || isPage(pathOf(request), pages);
    if (isOpen && !person && !isOfAll) throw new Unknown();
    if (person?.may === "look" && !LOOKS.has(request.method))
      throw new Forbidden("This token only looks: it changes nothing.", "Ask whoever runs the house for one that acts.");
  });
  app.setErrorHandler((error: Error & { statusCode?: number }, _, reply) => void answerWrong(error, reply, says));
  app.setNotFoundHandler((request, reply) => {
    return reply
      .code(404)
      .send({ says: `There is nothing at ${request.method} ${pathOf(request)}.`, remedy: "See /openapi.json." });
  });
  for (const one of routes) addRoute(app, one, view);
  for (const { at, folder } of pages)
    await app.register(staticFiles, {
      root: folder,
      prefix: `${at}/`,
      redirect: true,
      preCompressed: true,
      decorateReply: false,
      cacheControl: false,
      // What is built has its content in its name; what leads to it has not.
      setHeaders: (reply, path) =>
        void reply.setHeader("cache-control", path.includes("/assets/") ? "public, max-age=31536000, immutable" : "no-cache"),
    });
  if (pages.length > 0) addTexts(app, texts);
  const [first] = pages;
  if (first) app.get("/", (_, reply) => reply.redirect(`${first.at}/`));
  const document = openApi(version);
  app.get("/openapi.json", () => document);
  const metrics = metricsOf(running);
  app.get("/metrics", async (_, reply) => reply.type(metrics.contentType).send(await metrics.metrics()));
  app.get("/events", (request, reply) => {
    const { after } = read(eventsAsked, request.query, "query");
    if (streams.count >= MOST_STREAMS) throw new Refusal(503, "Too many listen already.");
    const last = request.headers["last-event-id"];
    const from = typeof last === "string" && /^\d{1,15}$/.test(last) ? Number(last) : after;
    reply.hijack();
    streams.open(reply.raw, from, people.get(request)?.name);
  });
  await app.listen({ host, port });
  const token = isOpen ? firstToken(file, Date.now()) : undefined;
  const [place] = app.addresses();
  const shown = isOpen ? host : "127.0.0.1";
  return {
    address: `http://${shown.includes(":") ? `[${shown}]` : shown}:${typeof place === "object" ? place.port : port}`,
    app,
    token,
    async end() {
      streams.end();
      await app.close();
      await view.archive.end();
    },
  };
}

/** Whose token each request came with. */
const people = new WeakMap<FastifyRequest, Person | undefined>();

function addRoute(app: FastifyInstance, { method, path, query, body, media, does }: Route, view: View): void {
  app.route({
    method,
    url: path.replace("{name}", ":name"),
    async handler(request, reply) {
      const person = people.get(request);
      const asked = {
        params: request.params as { name: string },
        query: (query ? read(query, request.query, "query") : {}) as never,
        body: (body ? read(body, request.body ?? {}, "body") : {}) as never,
        by: { who: person?.name ?? whoOf(request), origin: request.ip },
        person,
      };
      const answer = await does(view, asked);
      if (answer instanceof Prepared) return reply.type(`${media ?? "application/json"}; charset=utf-8`).send(answer.text);
      if (path === "/healthz" && !(answer as { fine: boolean }).fine) reply.code(503);
      return answer;
    },
  });
}

/** A page that finds no texts has nothing to say of it: there are none. */
function addTexts(app: FastifyInstance, texts: HouseTexts | undefined): void {
  app.get("/house-files", (_, reply) => (texts ? reply.send(texts.read()) : reply.code(204).send()));
  app.put("/house-files", { bodyLimit: TEXT_BODY }, (request, reply) => {
    if (!texts) throw new Refusal(404, "The texts of this house cannot be written here.");
    const { name, text, before } = read(textWritten, request.body ?? {}, "body");
    try {
      texts.write(name, text, before ?? undefined);
    } catch (error) {
      if (error instanceof TextsRefused) throw new Refusal(409, error.message);
      throw error;
    }
    return reply.code(204).send();
  });
}

function read<Shape extends z.ZodType>(shape: Shape, given: unknown, where: string): z.infer<Shape> {
  const { success, data, error } = shape.safeParse(given);
  if (success) return data;
  const [issue] = error.issues;
  const place = issue?.path.join(".") ?? "";
  throw new Refusal(
    400,
    `${place === "" ? `The ${where}` : `"${place}" in the ${where}`} is not as it should be: ${issue?.message ?? ""}.`,
    "See /openapi.json.",
  );
}

/** A name somebody gives, printable and short. */
function whoOf({ headers }: FastifyRequest): string {
  const said = headers["modrik-who"];
  const name =
    typeof said === "string"
      ? said
          .replace(/[^\p{L}\p{N} ._@-]/gu, "")
          .trim()
          .slice(0, 80)
      : "";
  return name === "" ? "somebody" : name;
}

/** Names and numbers by which this machine is asked for. */
function hostsOf(host: string): ReadonlySet<string> {
  const all = Object.values(networkInterfaces()).flatMap((one) => one?.map(({ address }) => address) ?? []);
  return new Set([...LOOPBACK, host, ...(host === "0.0.0.0" || host === "::" ? all : [])]);
}

/**
 * A page of another origin must not act on the house in the name of who looks at it: nor by an address that was turned to
 * this machine.
 */
function checkPlace({ headers }: FastifyRequest, hosts: ReadonlySet<string>): void {
  const asked = hostIn(headers.host);
  if (asked === undefined || !hosts.has(asked)) throw new Forbidden(`The house is not called "${headers.host ?? ""}".`);
  const { origin } = headers;
  if (origin === undefined) return;
  if (origin !== `http://${headers.host}` && origin !== `https://${headers.host}`)
    throw new Forbidden(`A page of ${origin} may not ask this house.`);
}

function hostIn(host: string | undefined): string | undefined {
  const [, name] = /^(\[[0-9a-fA-F:]+\]|[^:]+)(?::\d+)?$/.exec(host ?? "") ?? [];
  return name?.replace(/^\[|\]$/g, "").toLowerCase();
}

/** Who has the token that came with it; a token that is none of the house's is refused, wherever it comes from. */
function personIn({ headers }: FastifyRequest, file: HouseFile): Person | undefined {
  if (headers.authorization === undefined) return undefined;
  const [, token] = /^Bearer ([\w-]{1,200})$/.exec(headers.authorization) ?? [];
  const person = token === undefined ? undefined : personOf(file, token);
  if (!person) throw new Unknown();
  return person;
}

/** Nothing stands in a page that is not of everybody: it asks for the rest with a token. */
function isPage(path: string, pages: readonly Page[]): boolean {
  return pages.length > 0 && (path === "/" || pages.some(({ at }) => path === at || path.startsWith(`${at}/`)));
}

const LOOKS: ReadonlySet<string> = new Set(["GET", "HEAD"]);

class Forbidden extends Error {
  readonly statusCode = 403;
  constructor(
    says: string,
    readonly remedy?: string,
  ) {
    super(says);
  }
}

class Unknown extends Error {
  readonly statusCode = 401;
  constructor() {
    super("A token is needed to ask this house from elsewhere.");
  }
}

function answerWrong(error: Error & { statusCode?: number }, reply: FastifyReply, says: Says): FastifyReply {
  if (error instanceof Refusal)
    return reply.code(error.status).send({ says: error.message, ...(error.remedy !== undefined && { remedy: error.remedy }) });
  if (error instanceof ArchiveBusy)
    return reply.code(503).send({ says: sentence(error.message), remedy: "Ask again in a moment." });
  if (error instanceof StorageRefused) return reply.code(503).send({ says: sentence(error.message) });
  if (error instanceof Unknown)
    return reply
      .code(401)
      .header("www-authenticate", "Bearer")
      .send({ says: error.message, remedy: "Send it as: Authorization: Bearer TOKEN." });
  if (error instanceof Forbidden)
    return reply.code(403).send({ says: error.message, ...(error.remedy !== undefined && { remedy: error.remedy }) });
  const { statusCode = 500 } = error;
  // What the engine refuses is a wrong request.
  const status = statusCode >= 400 && statusCode < 500 ? statusCode : error instanceof RangeError ? 400 : 500;
  if (status === 500) says({ weight: "error", about: "http", text: `a request failed: ${error.stack ?? error.message}` });
  return reply.code(status).send({ says: status === 500 ? "That is a fault of this program." : sentence(error.message) });
}

const sentence = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}${text.endsWith(".") ? "" : "."}`;

function pathOf({ url }: FastifyRequest): string {
  return url.split("?")[0]?.slice(0, 200) ?? "";
}
