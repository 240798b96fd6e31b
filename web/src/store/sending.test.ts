import { beforeEach, expect, it, vi } from "vitest";
import type { Command, Scene } from "../api/types";
import { useDocument } from "./document";
import { endTry, send, tryOut } from "./sending";

type Answer = { status: number; body: unknown };
type Options = { body?: { command?: { kind: string; name?: string } } };
const asked: { url: string; body: NonNullable<Options["body"]> }[] = [];
let answer: (url: string) => Promise<Answer>;

vi.mock("../api/client", () => {
  const call = (url: string, options: Options = {}) => {
    asked.push({ url, body: options.body ?? {} });
    return answer(url);
  };
  const ask = async (under: Promise<Answer>) => {
    const { status, body } = await under;
    return status === 200 ? { data: body, problem: null } : { data: null, problem: body };
  };
  return { ask, client: { GET: call, POST: call } };
});

beforeEach(() => {
  asked.length = 0;
  const scene: Partial<Scene> = {
    name: "S",
    cameras: [],
    figures: [],
    movers: [],
    pieces: [],
    lenses: [],
    shots: [],
  };
  useDocument.setState({
    id: 1,
    revision: 3,
    scene: scene as Scene,
    shown: scene as Scene,
    overlay: null,
    refused: null,
    keys: {},
  });
});

const named = (name: string): Command => ({ kind: "scene.set", name });
const preview = (name: string) => ({
  patch: { settings: { name }, items: {}, order: {} },
  samples: {},
  placed: null,
  mixed: null,
  curves: {},
  strip: null,
});
const settled = () => new Promise((go) => setTimeout(go, 120));

it("shows the newest try, and forgets one that was let go", async () => {
  const waiting: ((a: Answer) => void)[] = [];
  answer = () => new Promise((go) => waiting.push(go));
  tryOut(named("one"), 1);
  tryOut(named("two"), 1);
  tryOut(named("three"), 1);
  await settled();
  waiting.shift()?.({ status: 200, body: preview("one") });
  await settled();
  // Two was never asked: three had come by then.
  expect(asked.map((a) => a.body.command?.name)).toEqual(["one", "three"]);
  waiting.shift()?.({ status: 200, body: preview("three") });
  await settled();
  expect(useDocument.getState().shown?.name).toBe("three");
  tryOut(named("four"), 1);
  await settled();
  endTry();
  waiting.shift()?.({ status: 200, body: preview("four") });
  await settled();
  expect(useDocument.getState().shown?.name).toBe("three");
  expect(useDocument.getState().scene?.name).toBe("S");
});

it("says when a change was not saved, and that it is when the next one is", async () => {
  answer = async () => ({
    status: 507,
    body: { title: "Not saved: the disk is full.", detail: "x", status: 507, not_kept: true },
  });
  expect((await send(named("a")))?.title).toBe("Not saved: the disk is full.");
  expect(useDocument.getState()).toMatchObject({ unkept: true, revision: 3, busy: 0 });
  answer = async () => ({
    status: 200,
    body: {
      revision: 4,
      sentence: "",
      patch: preview("a").patch,
      keys: {},
      samples: {},
      can_undo: true,
      can_redo: false,
    },
  });
  expect(await send(named("a"))).toBeNull();
  expect(useDocument.getState()).toMatchObject({ unkept: false, revision: 4, canUndo: true });
  expect(useDocument.getState().scene?.name).toBe("a");
});

it("takes in what others did in between, from the log, before its own", async () => {
  const change = (revision: number, name: string) => ({
    revision,
    kind: "do",
    sentence: "",
    author: "b",
    patch: preview(name).patch,
  });
  answer = async (url) =>
    url.includes("/changes")
      ? {
          status: 200,
          body: {
            revision: 5,
            changes: [change(4, "theirs"), change(5, "mine")],
            keys: {},
            can_undo: true,
            can_redo: false,
          },
        }
      : {
          status: 200,
          body: {
            revision: 5,
            sentence: "",
            patch: preview("mine").patch,
            keys: {},
            samples: {},
            can_undo: true,
            can_redo: false,
          },
        };
  await send(named("mine"));
  expect(asked.map((a) => a.url)).toEqual([
    "/api/scenes/{scene_id}/commands",
    "/api/scenes/{scene_id}/changes",
  ]);
  expect(useDocument.getState()).toMatchObject({ revision: 5 });
  expect(useDocument.getState().scene?.name).toBe("mine");
});
