export { withRooms } from "./assumed.js";
export { befall } from "./befall.js";
export { type DeviceHost, type DeviceOptions, Devices } from "./devices.js";
export { createPhysics, type Physics, type PhysicsOptions } from "./physics.js";
export { randomFrom } from "./random.js";
export { AIR_HEAT, type Air } from "./rooms.js";
export { type Simulation, simulate } from "./simulate.js";
export { beginningOf, calm, checkWeather, exampleDay, type SimulationOptions, type Stage, stage } from "./stage.js";
export { type Watcher, World } from "./world.js";
