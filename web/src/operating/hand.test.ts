import { describe, expect, it } from "vitest";
import { brought, dragged, NO_PUSH, overFloor, pairAs, pushed, STILL, touchedBy } from "./hand";
import { BUTTONS, eased, pushOf } from "./pad";

const near = (found: { x: number; z: number }, x: number, z: number) => {
  expect(found.x).toBeCloseTo(x, 9);
  expect(found.z).toBeCloseTo(z, 9);
};

describe("over the floor", () => {
  // Pan 0 looks towards −Z and is positive to the left, as on every camera here.
  it("goes right and ahead of a heading", () => {
    near(overFloor(0, 1, 0), 1, 0);
    near(overFloor(0, 0, 1), 0, -1);
    near(overFloor(90, 0, 1), -1, 0);
    near(overFloor(90, 1, 0), 0, -1);
  });
});

describe("a push", () => {
  it("comes to more the longer it lasts, and to the same in many steps as in one", () => {
    const push = { ...NO_PUSH, look: [1, -0.5] as [number, number], lift: 1, zoom: 1 };
    const whole = pushed(STILL, push, 1, 0);
    let parts = STILL;
    for (let i = 0; i < 60; i++) parts = pushed(parts, push, 1 / 60, 0);
    for (const name of ["pan", "tilt", "y", "zoom"] as const) expect(parts[name]).toBeCloseTo(whole[name], 9);
    // To the right the pan falls; down the tilt does.
    expect(whole.pan).toBeLessThan(0);
    expect(whole.tilt).toBe(whole.pan / 2);
    // A full push doubles a focal length in a second.
    expect(brought("focal", 32, whole, {})).toBeCloseTo(64, 9);
  });
  it("is what the pair of ways means for what is worked", () => {
    expect(pairAs("lift", 1, -1)).toEqual({ ...NO_PUSH, move: [1, 0], lift: -1 });
    expect(pairAs("drive", 1, 0.5)).toEqual({ ...NO_PUSH, look: [1, 0], move: [0, 0.5] });
    expect(pairAs("focus", 1, 0.5)).toEqual({ ...NO_PUSH, focus: 0.5 });
    expect(pairAs("lead", 1, 0.5)).toEqual({ ...NO_PUSH, move: [1, 0.5] });
  });
});

describe("the mouse over the picture", () => {
  it("takes what is looked at along: the whole picture is the whole angle", () => {
    const seen = { across: 40, distance: 5, heading: 0 };
    expect(dragged(STILL, "look", 1, 0, seen).pan).toBe(-40);
    expect(dragged(STILL, "look", 0, 0.5, seen).tilt).toBe(20);
    expect(dragged(STILL, "ground", 0, 0.1, seen).z).toBeLessThan(0);
  });
});

describe("a number brought by the hand", () => {
  it("stays within what lens and neck allow", () => {
    expect(brought("tilt", 80, { ...STILL, tilt: 30 }, { tilt: [-89.9, 89.9] })).toBe(89.9);
    expect(brought("focal", 35, { ...STILL, zoom: 9 }, { focal: [24, 120] })).toBe(120);
    // Farther is less in 1/m.
    expect(brought("focus.distance", 0.5, { ...STILL, focus: Math.log(2) }, {})).toBeCloseTo(0.25, 12);
    expect(touchedBy(["pan", "focal"], { ...STILL, zoom: 0.1 })).toEqual(["focal"]);
  });
});

describe("a pad", () => {
  const pad = (axes: number[], ...held: number[]) => ({
    axes,
    buttons: Array.from({ length: 16 }, (_, i) => ({ value: held.includes(i) ? 1 : 0 })),
  });
  it("means nothing at rest, though its sticks stand a little off their middle", () => {
    expect(pushOf(pad([0.05, -0.1, 0.11, 0]), "all")).toEqual({ ...NO_PUSH, look: [0, -0], move: [0, 0] });
    expect(eased(1)).toBe(1);
    expect(eased(-1)).toBe(-1);
    expect(eased(0.5)).toBeLessThan(0.5);
  });
  it("looks with the right stick and goes with the left one; up is up and ahead", () => {
    const push = pushOf(pad([1, 0, 0, -1], BUTTONS.higher, BUTTONS.wider, BUTTONS.farther), "all");
    expect(push).toEqual({ look: [0, 1], move: [1, -0], lift: 1, zoom: -1, focus: 1 });
  });
  it("works one pair with whichever stick is pushed farther", () => {
    expect(pushOf(pad([0.2, 0, 0, -1]), "look").look).toEqual([0, 1]);
    expect(pushOf(pad([0, -1, 0.2, 0]), "zoom").zoom).toBe(1);
    expect(pushOf(pad([0, 0, 0, 0], BUTTONS.longer), "look").zoom).toBe(0);
  });
});
