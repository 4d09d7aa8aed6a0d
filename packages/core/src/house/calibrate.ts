// From what a device sends to the value of its sensor.
import type { Sensor } from "./house.js";

/** A raw reading calibrated: the line through two points, or times the scale; then plus the offset. In the sensor's unit. */
export function calibrate({ scale = 1, offset = 0, reads }: Sensor, raw: number): number {
  if (!reads) return raw * scale + offset;
  const [a, b] = reads;
  return a.value + ((raw - a.raw) / (b.raw - a.raw)) * (b.value - a.value) + offset;
}
