// A thread that works next to the main one.
import { workerData } from "node:worker_threads";
import { type WorkerHouse, worker } from "./tasks.js";

// Piscina hands over its own data next to what it was given.
export default worker((Array.isArray(workerData) ? workerData[1] : workerData) as WorkerHouse);
