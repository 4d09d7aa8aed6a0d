export { createPhysics, type Physics, type PhysicsOptions } from "./physics.js";
export { randomFrom } from "./random.js";
export { calm, exampleDay, type Simulation, type SimulationOptions, simulate } from "./simulate.js";
export { World } from "./world.js";
