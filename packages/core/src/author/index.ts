export { defineHouse, type HouseDefinition, HouseError, type HouseProblem } from "./define.js";
export {
  type Condition as AuthoredCondition,
  colour,
  date,
  fixed,
  hours,
  instant,
  minutes,
  seconds,
  type Term,
  time,
  unknown,
  word,
} from "./kinds.js";
export * from "./sentences.js";
export type { EffectData, HabitData, RoomData, WeatherData, WiringData } from "./simulated.js";
export * from "./steps.js";
export {
  above,
  abs,
  absoluteHumidity,
  aggregate,
  all,
  any,
  atLeast,
  atMost,
  below,
  between,
  choose,
  clamp,
  dewPoint,
  dividedBy,
  feltTemperature,
  inTheLast,
  is,
  isUnknown,
  lasting,
  minus,
  negative,
  not,
  over,
  type PickCase,
  pick,
  plus,
  type Reckoned,
  reckoned,
  round,
  scale,
  times,
  until,
  vapourPressureDeficit,
} from "./terms.js";
export {
  dial,
  group,
  mode,
  type NamedGroup,
  named,
  type Outputs,
  output,
  sensor,
  type Thing as AuthoredThing,
  type Zone as AuthoredZone,
  zone,
} from "./things.js";
export * from "./times.js";
export * from "./trials.js";
export { writeInTypeScript } from "./write.js";
