export { Agenda } from "./agenda.js";
export { Evaluator, type NodeState } from "./evaluator.js";
export { compares, compute } from "./functions.js";
export { eventsOf, type Graph, GraphBuilder, type Node } from "./graph.js";
export { Keys, type Series } from "./keys.js";
export { ops } from "./ops.js";
export { packed } from "./packed.js";
export { absoluteHumidity, relativeHumidity } from "./psychrometrics.js";
export type { Quiet } from "./quiet.js";
