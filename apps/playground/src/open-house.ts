// The house as a worker keeps it open: of a file that is written on, only that file is read again.
import { type House, misfit } from "modrik";
import { type HouseText, openHouse } from "modrik/language";
import { lindenYardCalendars } from "./linden-yard.js";
import type { Setup } from "./messages.js";

/** Follows the files of one setup after another. */
export function followFiles(): (files: Setup["files"]) => HouseText {
  let text = openHouse({}, { calendars: lindenYardCalendars });
  return (files) => {
    const gone = Object.keys(text.files).filter((file) => !(file in files));
    for (const file of gone) text = text.with(file, undefined);
    for (const [file, written] of Object.entries(files)) text = text.with(file, written);
    return text;
  };
}

/** Values that still fit the house, whose dials may have been changed in the text. */
export function fitting(house: House, set: Setup["set"]): Setup["set"] {
  return Object.fromEntries(
    Object.entries(set).filter(([name, value]) => {
      const dial = [...house.dials, ...house.modes].find((one) => one.name === name);
      return dial !== undefined && misfit(dial, value) === undefined;
    }),
  );
}
