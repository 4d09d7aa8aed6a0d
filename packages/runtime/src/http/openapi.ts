// What can be asked of a running house, described (OpenAPI 3.1), made of the same rows that answer.
import { z } from "zod";
import { type Route, routes } from "./routes.js";
import { eventsAsked, problem } from "./shapes.js";

const schemaOf = (shape: z.ZodType, io: "input" | "output") => {
  const { $schema: _, ...schema } = z.toJSONSchema(shape, { target: "draft-2020-12", io });
  return hoisted(schema);
};

type Json = Record<string, unknown>;

/** Shapes that have a name stand once among the components. */
const components: Record<string, unknown> = {};

function hoisted(schema: Json): Json {
  const { $defs = {}, ...rest } = schema as Json & { $defs?: Json };
  const refer = (node: unknown): unknown => {
    if (Array.isArray(node)) return node.map(refer);
    if (typeof node !== "object" || node === null) return node;
    const entries = Object.entries(node).filter(([key]) => key !== "$defs" && key !== "$id");
    return Object.fromEntries(
      entries.map(([key, value]) =>
        key === "$ref" && typeof value === "string"
          ? [key, `#/components/schemas/${value.split("/").at(-1)}`]
          : [key, refer(value)],
      ),
    );
  };
  for (const [name, definition] of Object.entries($defs)) components[name] = refer(definition);
  const { id } = rest as { id?: unknown };
  if (typeof id !== "string") return refer(rest) as Json;
  components[id] = refer(rest);
  return { $ref: `#/components/schemas/${id}` };
}

const json = (schema: Json) => ({ content: { "application/json": { schema } } });
const wrong = (says: string) => ({ description: says, ...json(schemaOf(problem, "output")) });

/** The document. @param version of this program */
export function openApi(version: string): Json {
  const paths: Record<string, Json> = {};
  for (const one of routes) {
    const there = paths[one.path] ?? {};
    paths[one.path] = { ...there, [one.method.toLowerCase()]: operationOf(one) };
  }
  paths["/events"] = { get: events() };
  paths["/metrics"] = {
    get: {
      operationId: "metrics",
      summary: "Figures of the house for a monitor (OpenMetrics).",
      responses: {
        200: { description: "The figures.", content: { "application/openmetrics-text": { schema: { type: "string" } } } },
      },
    },
  };
  return {
    openapi: "3.1.0",
    info: {
      title: "A running house",
      version,
      description: "What a house of Modrik is and does, and what people may do to it.",
      license: { name: "MIT", identifier: "MIT" },
    },
    security: [{}, { token: [] }],
    paths,
    components: {
      schemas: components,
      securitySchemes: { token: { type: "http", scheme: "bearer", description: "Needed unless asked from the same machine." } },
    },
  };
}

function operationOf({ path, operation, says, query, body, answers, media, method }: Route): Json {
  const named = path.includes("{name}");
  const changes = method !== "GET";
  return {
    operationId: operation,
    summary: says,
    parameters: [
      ...(named ? [{ name: "name", in: "path", required: true, schema: { type: "string" } }] : []),
      ...(query ? parametersOf(query) : []),
      ...(changes
        ? [
            {
              name: "Modrik-Who",
              in: "header",
              required: false,
              schema: { type: "string" },
              description: "Who does it, for the journal.",
            },
          ]
        : []),
    ],
    ...(body && { requestBody: { required: true, ...json(schemaOf(body, "input")) } }),
    responses: {
      200: {
        description: "Done.",
        ...(media ? { content: { [media]: { schema: schemaOf(answers, "output") } } } : json(schemaOf(answers, "output"))),
      },
      ...(path === "/healthz" && { 503: { description: "Not all is well.", ...json(schemaOf(answers, "output")) } }),
      ...((query || body) && { 400: wrong("The request is not understood.") }),
      ...(path !== "/healthz" && { 401: wrong("A token is needed."), 403: wrong("It may not be asked from there.") }),
      ...((named || query) && { 404: wrong("There is no such thing.") }),
      429: wrong("Too many requests."),
      ...(changes && { 503: wrong("It has happened, and the disk does not keep it.") }),
    },
  };
}

function parametersOf(query: z.ZodObject): Json[] {
  const { properties = {}, required = [] } = schemaOf(query, "input") as { properties?: Json; required?: string[] };
  return Object.entries(properties).map(([name, schema]) => ({ name, in: "query", required: required.includes(name), schema }));
}

function events(): Json {
  return {
    operationId: "events",
    summary: "What happens, as it happens (Server-Sent Events).",
    parameters: [
      ...parametersOf(eventsAsked),
      { name: "Last-Event-ID", in: "header", required: false, schema: { type: "string" }, description: "Goes on behind it." },
    ],
    responses: { 200: { description: "A stream.", content: { "text/event-stream": { schema: { type: "string" } } } } },
  };
}
