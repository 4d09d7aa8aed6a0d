export { type HouseClock, machineClock } from "./clock.js";
export { type Link, LocalLink } from "./link.js";
export type { RuntimeNote, Says, Weight } from "./notes.js";
export { type Counts, type Doer, RunningHouse, type RunningOptions, StorageRefused } from "./running-house.js";
export { StorageError } from "./storage/file.js";
export { type Deed, type HourlyValue, HouseFile } from "./storage/house-file.js";
