// A running house over HTTP: to those on this machine, and with a token to those who have it.
import { networkInterfaces } from "node:os";
import rateLimit from "@fastify/rate-limit";
import fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from "fastify";
import type { z } from "zod";
import type { Says } from "../notes.js";
import { type RunningHouse, StorageRefused } from "../running-house.js";
import type { HouseFile } from "../storage/house-file.js";
import { metricsOf } from "./metrics.js";
import { openApi } from "./openapi.js";
import { Refusal, type Route, routes } from "./routes.js";
import { eventsAsked } from "./shapes.js";
import { Streams } from "./stream.js";
import { firstToken, isToken } from "./token.js";
import { View } from "./view.js";

export interface HttpOptions {
  readonly running: RunningHouse;
  readonly file: HouseFile;
  readonly version: string;
  /** Where it listens. @default 127.0.0.1 */
  readonly host?: string;
  /** 0 takes any free one. @default 0 */
  readonly port?: number;
  /** Requests in a minute from one address. @default 1200 */
  readonly mostRequests?: number;
  /** Told of what goes wrong in here. */
  readonly says?: Says;
  /** Answers what is none of ours, as the pages of a panel. */
  readonly otherwise?: (request: FastifyRequest, reply: FastifyReply) => unknown;
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
  "cache-control": "no-store",
};

/** Listens. @throws when the address is taken */
export async function serveHouse(options: HttpOptions): Promise<HttpHouse> {
  const { running, file, version, host = "127.0.0.1", port = 0, mostRequests = 1200, otherwise, says = () => {} } = options;
  const isOpen = !LOOPBACK.has(host);
  const app = fastify({
    bodyLimit: BODY,
    exposeHeadRoutes: true,
    requestTimeout: 30_000,
    connectionTimeout: 60_000,
    routerOptions: { maxParamLength: 400 },
    forceCloseConnections: true,
    // A name that is no good in an address is no fault of ours.
    frameworkErrors: (error, _, reply) => void answerWrong(error, reply as unknown as FastifyReply, says),
  });
  const view = new View(running, file, version);
  const streams = new Streams(view);
  await app.register(rateLimit, {
    max: mostRequests,
    timeWindow: "1 minute",
    errorResponseBuilder: (_, { after }) =>
      Object.assign(new Error(`Too many requests: go on in ${after}.`), { statusCode: 429 }),
  });
  const hosts = hostsOf(host);
  app.addHook("onRequest", async (request, reply) => {
    reply.headers(headers);
    checkPlace(request, hosts);
    if (isOpen && request.routeOptions.url !== "/healthz") checkToken(request, file);
  });
  app.setErrorHandler((error: Error & { statusCode?: number }, _, reply) => void answerWrong(error, reply, says));
  app.setNotFoundHandler((request, reply) => {
    if (otherwise && request.method === "GET") return otherwise(request, reply);
    return reply
      .code(404)
      .send({ says: `There is nothing at ${request.method} ${pathOf(request)}.`, remedy: "See /openapi.json." });
  });
  for (const one of routes) addRoute(app, one, view);
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
    streams.open(reply.raw, from);
  });
  await app.listen({ host, port });
  const token = isOpen ? firstToken(file, Date.now()) : undefined;
  const [first] = app.addresses();
  const shown = isOpen ? host : "127.0.0.1";
  return {
    address: `http://${shown.includes(":") ? `[${shown}]` : shown}:${typeof first === "object" ? first.port : port}`,
    app,
    token,
    async end() {
      streams.end();
      await app.close();
    },
  };
}

function addRoute(app: FastifyInstance, { method, path, query, body, does }: Route, view: View): void {
  app.route({
    method,
    url: path.replace("{name}", ":name"),
    async handler(request, reply) {
      const asked = {
        params: request.params as { name: string },
        query: (query ? read(query, request.query, "query") : {}) as never,
        body: (body ? read(body, request.body ?? {}, "body") : {}) as never,
        by: { who: whoOf(request), origin: request.ip },
      };
      const answer = await does(view, asked);
      if (path === "/healthz" && !(answer as { fine: boolean }).fine) reply.code(503);
      return answer;
    },
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

function checkToken({ headers }: FastifyRequest, file: HouseFile): void {
  const [, token] = /^Bearer ([\w-]{1,200})$/.exec(headers.authorization ?? "") ?? [];
  if (token === undefined || !isToken(file, token)) throw new Unknown();
}

class Forbidden extends Error {
  readonly statusCode = 403;
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
  if (error instanceof StorageRefused) return reply.code(503).send({ says: sentence(error.message) });
  if (error instanceof Unknown)
    return reply
      .code(401)
      .header("www-authenticate", "Bearer")
      .send({ says: error.message, remedy: "Send it as: Authorization: Bearer TOKEN." });
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
