// The rules of the workload in Modrik's own language.

/** A house with so many zones, as text. */
export function workshopText(zones: number): string {
  const names = Array.from({ length: zones }, (_, zone) => `z${zone}`);
  return `house "Workshop" { clock "UTC" }
schedule working {
  Mon..Fri 07:00 to 22:00
  Sat, Sun 10:00 to 16:00
}
${names.map(zoneText).join("\n")}`;
}

function zoneText(name: string): string {
  return `zone ${name} {
  sensor temperature: °C
  sensor humidity: %RH
  sensor daylight: lx
  sensor motion: moving/still
  sensor door: open/closed
  output heater: on/off
  output humidifier: on/off
  output extractor: on/off
  output lamp: on/off
  rule ${name}_warm { while during working keep temperature at 20 °C ± 0.5 °C raise with heater }
  rule ${name}_moist { while door has been closed for 2 min keep humidity at 45 %RH ± 3 %RH raise with humidifier }
  rule ${name}_light { while daylight below 300 lx and motion was moving in the last 10 min hold lamp at on }
  rule ${name}_air { while humidity above 65 %RH for 5 min until below 55 %RH hold extractor at on }
  rule ${name}_ajar { when door has been open for 5 min do { tell "${name}" } }
  guard ${name}_shut { permit heater on only while not (door has been open for 3 min) }
}`;
}
