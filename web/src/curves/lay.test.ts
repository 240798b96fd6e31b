import { expect, it } from "vitest";
import type { ChannelSpec } from "../api/types";
import { frameAt, type Lay, marksOf, perUnit, ROW, ticks, valueAt, xAt, yAt } from "./lay";

const lay = (span: { low: number; high: number }, rows: Lay["rows"] = null): Lay => ({
  along: { left: 1000, ppf: 4 } as Lay["along"],
  height: 200,
  rows,
  span: () => span,
});

it("puts a key in the middle of its frame, and finds frame and value again", () => {
  const at = lay({ low: -1, high: 1 });
  expect(xAt(at, 1000)).toBe(2);
  expect(frameAt(at, xAt(at, 1013.25))).toBeCloseTo(1013.25, 9);
  // The lowest value is at the foot of the sheet, the highest at its head.
  expect([yAt(at, "x", -1), yAt(at, "x", 1)]).toEqual([200, 0]);
  expect(perUnit(at, "x")).toBe(100);
  expect(valueAt(at, "x", yAt(at, "x", 0.3))).toBeCloseTo(0.3, 9);
});

it("puts keys in rows by their channel, whatever their value", () => {
  const at = lay({ low: 0, high: 1 }, { names: ["x", "y"], top: 5 });
  expect(yAt(at, "y", 99)).toBe(ROW - 5 + ROW / 2);
});

it("has its scale go by 1, 2 or 5, with as many decimals as that needs", () => {
  for (const [low, high] of [
    [0, 1],
    [-3, 47],
    [0.001, 0.0042],
    [980, 1320],
    [-0.2, 0.1],
  ]) {
    const { at, digits } = ticks(low, high, 200);
    const step = at[1] - at[0];
    const lead = step / 10 ** Math.floor(Math.log10(step) + 1e-9);
    expect([1, 2, 5, 10].some((n) => Math.abs(lead - n) < 1e-6)).toBe(true);
    // A mark every 34 pixels or more, and all of them in sight.
    expect((step / (high - low)) * 200).toBeGreaterThanOrEqual(34 - 1e-9);
    expect(at[0]).toBeGreaterThanOrEqual(low - 1e-12);
    expect(at[at.length - 1]).toBeLessThanOrEqual(high + 1e-12);
    for (const value of at) expect(Math.abs(Number(value.toFixed(digits)) - value)).toBeLessThan(step / 1e6);
  }
});

const spec = (more: Partial<ChannelSpec>) => ({ name: "x", front: "", unit: "", ...more }) as ChannelSpec;

it("writes what stands on the axis as it is shown: with its unit, and never minus nothing", () => {
  const texts = marksOf(lay({ low: -1, high: 1 }), { spec: spec({ unit: "m" }) }).map((m) => m.text);
  expect(texts).toContain("0.0 m");
  expect(texts.every((text) => /^-?\d\.\d m$/.test(text))).toBe(true);
  expect(marksOf(lay({ low: -10, high: 10 }), { spec: spec({ unit: "°" }) })[0].text).toBe("-10°");
});

it("uses the marks a channel has of its own, those in sight, not too many", () => {
  const stops = Array.from({ length: 31 }, (_, i): [number, number] => [i / 3, 2 ** (i / 6)]);
  const found = marksOf(lay({ low: 1.9, high: 6.1 }), { spec: spec({ front: "f/" }), marks: stops });
  expect(found[0]).toEqual({ value: 2, text: "f/2.0" });
  expect(found.length).toBeLessThanOrEqual(200 / 34 + 1);
  expect(found.every((m) => m.value >= 1.9 && m.value <= 6.1)).toBe(true);
});
