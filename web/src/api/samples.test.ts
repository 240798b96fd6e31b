import { expect, it } from "vitest";
import { laidOver, placesOf, rowAt, showTimecode, unpackCut, unpackSamples, unsealed } from "./samples";

/** Packed as the core packs: header length, header, float32 rows of the columns that move. */
function packed(header: object, rows: number[]): ArrayBuffer {
  let text = JSON.stringify(header);
  text += " ".repeat((4 - (text.length % 4)) % 4);
  const out = new Uint8Array(4 + text.length + 4 * rows.length);
  new DataView(out.buffer).setUint32(0, text.length, true);
  out.set(new TextEncoder().encode(text), 4);
  out.set(new Uint8Array(Float32Array.from(rows).buffer), 4 + text.length);
  return out.buffer;
}

const HEADER = {
  columns: ["x", "y", "z", "pan"],
  first: 101,
  last: 103,
  facts: { keys: [1] },
  still: { 1: 1.5 },
};
const SAMPLES = unpackSamples(packed(HEADER, [1, 10, 100, 2, 20, 200, 3, 30, 300]));

it("fills in the columns that stand still", () => {
  expect([...rowAt(SAMPLES, 102)]).toEqual([2, 1.5, 20, 200]);
  expect(SAMPLES.columns).toEqual({ x: 0, y: 1, z: 2, pan: 3 });
});

it("stands at the nearest end outside its frames", () => {
  expect([...rowAt(SAMPLES, 1)]).toEqual([1, 1.5, 10, 100]);
  expect([...rowAt(SAMPLES, 999)]).toEqual([3, 1.5, 30, 300]);
});

it("goes straight between two frames, but stands before one on which it is suddenly elsewhere", () => {
  expect([...rowAt(SAMPLES, 101.25)]).toEqual([1.25, 1.5, 12.5, 125]);
  expect([...rowAt(SAMPLES, 103.5)]).toEqual([3, 1.5, 30, 300]);
  const jumping = { ...SAMPLES, facts: { jumps: [102] } };
  expect([...rowAt(jumping, 101.75)]).toEqual([1, 1.5, 10, 100]);
  expect([...rowAt(jumping, 102.5)]).toEqual([2.5, 1.5, 25, 250]);
});

it("takes places in turn, still or moving", () => {
  expect([...placesOf(SAMPLES)]).toEqual([1, 1.5, 10, 2, 1.5, 20, 3, 1.5, 30]);
});

it("gives a row that never changes without copying", () => {
  const still = unpackSamples(packed({ ...HEADER, still: { 0: 1, 1: 2, 2: 3, 3: 4 } }, []));
  expect([...rowAt(still, 102)]).toEqual([1, 2, 3, 4]);
});

it("reads the cut's tables one behind the other", () => {
  const header = { length: 2, drop: false, first: 7, shots: [], mixed: 1 };
  const text = JSON.stringify(header).padEnd(60, " ");
  const table = [0, 0, 8, 9, 1, 2, 3, 1, 4, 12, -1, 0];
  const weights = [0.25, 0.5, 0.1, 0.2, 0.3];
  const out = new Uint8Array(4 + 60 + 4 * (table.length + weights.length));
  new DataView(out.buffer).setUint32(0, 60, true);
  out.set(new TextEncoder().encode(text), 4);
  out.set(new Uint8Array(Int32Array.from(table).buffer), 64);
  out.set(new Uint8Array(Float32Array.from(weights).buffer), 64 + 4 * table.length);
  const cut = unpackCut(out.buffer);
  expect([[...cut.shot], [...cut.stage], [...cut.timecode], [...cut.firstCut]]).toEqual([
    [0, 0],
    [8, 9],
    [1, 2, 3],
    [-1, 0],
  ]);
  const { at, other, stage, own, others, light } = cut.mixed;
  expect([at, other, stage, own, others].map((column) => column[0])).toEqual([1, 4, 12, 0.25, 0.5]);
  expect([...light]).toEqual([...Float32Array.from([0.1, 0.2, 0.3])]);
});

it("writes timecode with its own separator", () => {
  expect(showTimecode(1_020_304, false)).toBe("01:02:03:04");
  expect(showTimecode(10_000_000, true)).toBe("10:00:00;00");
});

it("opens sealed bytes", () => {
  expect([...new Uint8Array(unsealed("AAH/"))]).toEqual([0, 1, 255]);
});

it("lays some frames over what was there, though other columns move in them", () => {
  // On 102 alone y moves, and pan stands at what it is there.
  const part = unpackSamples(
    packed(
      { ...HEADER, first: 102, last: 102, facts: { keys: [] }, still: { 0: 5, 2: 20, 3: 7 }, onto: "key" },
      [8],
    ),
  );
  const laid = laidOver(SAMPLES, part);
  expect([101, 102, 103].map((frame) => [...rowAt(laid, frame)])).toEqual([
    [1, 1.5, 10, 100],
    [5, 8, 20, 7],
    [3, 1.5, 30, 300],
  ]);
  expect(laid.facts).toEqual({ keys: [] });
  // What was there is not written over.
  expect([...rowAt(SAMPLES, 102)]).toEqual([2, 1.5, 20, 200]);
});

it("lays frames over in which the same columns move", () => {
  const part = unpackSamples(packed({ ...HEADER, first: 103, last: 103, onto: "key" }, [4, 40, 400]));
  const laid = laidOver(SAMPLES, part);
  expect([102, 103].map((frame) => [...rowAt(laid, frame)])).toEqual([
    [2, 1.5, 20, 200],
    [4, 1.5, 40, 400],
  ]);
});
