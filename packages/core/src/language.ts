// For editors and all who show or change the texts of a house: texts that stay open, what may stand at a place, what stands
// there, names changed, mistakes fixed.

export {
  type Allowance,
  type Completion,
  type Completions,
  type Files,
  type FirstAnswers,
  type FirstHouse,
  type FirstNumber,
  type Fixed,
  type FixedLine,
  firstHouses,
  fixHouse,
  type HouseText,
  misfitsOfNumbers,
  type NameAt,
  type NameUse,
  nearest,
  openHouse,
  type Renamed,
  type SourceToken,
  type SpokenOf,
  type SpokenPlace,
  writeFirstHouse,
} from "./language/index.js";
export {
  type Description,
  describe,
  type Hint,
  hints,
} from "./why/index.js";
