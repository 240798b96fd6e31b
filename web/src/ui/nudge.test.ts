import { expect, test } from "vitest";
import { nudge } from "./nudge";

const slow = () => new Promise((done) => setTimeout(done, 15));

test("twenty steps asked for at once come to twenty, however slowly each is done", async () => {
  let at = 0;
  let acts = 0;
  const all = Array.from({ length: 20 }, () =>
    nudge("a", [1], async ([by]) => {
      const from = at;
      await slow();
      at = from + by;
      acts += 1;
      return true;
    }),
  );
  await Promise.all(all);
  expect(at).toBe(20);
  expect(acts).toBeLessThan(20);
});

test("what waits behind a refused step is dropped, and the next one begins again", async () => {
  const done: number[] = [];
  const act = (ok: boolean) => async (by: number[]) => {
    await slow();
    if (ok) done.push(by[0]);
    return ok;
  };
  await Promise.all([nudge("b", [1], act(false)), nudge("b", [1], act(true)), nudge("b", [1], act(true))]);
  expect(done).toEqual([]);
  await nudge("b", [3], act(true));
  expect(done).toEqual([3]);
});
