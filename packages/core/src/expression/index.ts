export { Agenda } from "./agenda.js";
export { Evaluator, type NodeState } from "./evaluator.js";
export { Graph, placeOf } from "./graph.js";
export { packed } from "./packed.js";
export { absoluteHumidity, relativeHumidity } from "./psychrometrics.js";
