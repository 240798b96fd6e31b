import { expect, it } from "vitest";
import { typed } from "./sum";

it.each([
  ["12", 12],
  ["1,5", 1.5],
  ["f/2.8", 2.8],
  ["-3", -3],
  ["3*24", 72],
  ["1/3", 1 / 3],
  ["2+3*4", 14],
  ["(2+3)*4", 20],
  ["10-2-3", 5],
  ["16/4/2", 2],
  ["-(1+1)", -2],
  ["1e-3", 0.001],
  ["by 0.5", 7.5],
  ["by -2*3", 1],
  ["2.5s", 60],
  ["1001+2s", 1049],
  ["inf", Number.POSITIVE_INFINITY],
])("%s is what arithmetic says", (text, expected) => {
  expect(typed(text, 7, 24)).toBeCloseTo(expected, 12);
});

it.each(["", "abc", "1/0", "3*", "(2", "2)", "1 2", "--", "by", "by inf", "3 apples"])(
  "%s is not a number",
  (text) => {
    expect(typed(text, 7, 24)).toBeNaN();
  },
);

it("seconds mean nothing where no frames are counted", () => {
  expect(typed("2s", 7)).toBeNaN();
});
