// Moist air: temperatures in °C, relative humidity in %RH, vapour pressure in Pa, absolute humidity in g/m³.

/** Pa; over water. Magnus form after Sonntag 1990 (WMO Guide to Instruments, annex 4.B), within 0.4 % of the tables from -45 to 60 °C. */
export function saturationPressure(temperature: number): number {
  return 611.2 * Math.exp((17.62 * temperature) / (243.12 + temperature));
}

/** g of water in a cubic metre of air: the ideal gas law with R = 461.5 J/(kg K) for water vapour. */
export function absoluteHumidity(temperature: number, relative: number): number {
  return ((relative / 100) * saturationPressure(temperature) * 1000) / (461.5 * (temperature + 273.15));
}

/** %RH of air that holds so much water; above 100 where it cannot hold it. */
export function relativeHumidity(temperature: number, absolute: number): number {
  return (100 * absolute) / absoluteHumidity(temperature, 100);
}

/** °C at which the air would begin to give off water: the Magnus form solved for the temperature. */
export function dewPoint(temperature: number, relative: number): number {
  const ratio = Math.log(((relative / 100) * saturationPressure(temperature)) / 611.2);
  return (243.12 * ratio) / (17.62 - ratio);
}

/** Pa between what the air holds and what it could hold. */
export function vapourPressureDeficit(temperature: number, relative: number): number {
  return saturationPressure(temperature) * (1 - relative / 100);
}

/**
 * °C that the air feels like in the shade without wind: apparent temperature after Steadman 1994 (Australian
 * Meteorological Magazine 43), T + 0.33 e - 4 with the vapour pressure e in hPa.
 */
export function feelsLike(temperature: number, relative: number): number {
  return temperature + 0.33 * ((relative / 100) * saturationPressure(temperature) * 0.01) - 4;
}
