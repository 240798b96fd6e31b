import { expect, test } from "vitest";
import { ACTIONS } from "./actions";

test("no key does two things", () => {
  const keys = ACTIONS.flatMap((action) => action.keys ?? []);
  expect(keys.filter((key, i) => keys.indexOf(key) !== i)).toEqual([]);
});
