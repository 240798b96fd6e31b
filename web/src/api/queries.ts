import { queryOptions } from "@tanstack/react-query";
import { ask, client } from "./client";
import { unpackStrip } from "./samples";
import type { CutNotes, News, NoteOut, RemedyOut, RunLine, Schemas } from "./types";

async function must<T>(call: Parameters<typeof ask<T>>[0]): Promise<T> {
  const { data, problem } = await ask(call);
  if (problem) throw new Error(problem.detail);
  return data;
}

export const sceneList = queryOptions({
  queryKey: ["scenes"],
  queryFn: () => must(client.GET("/api/scenes")),
});

/** Scenes in the trash. */
export const trashed = queryOptions({
  queryKey: ["scenes", "trash"],
  queryFn: () => must(client.GET("/api/scenes", { params: { query: { put_away: true } } })),
});

export const filmList = queryOptions({
  queryKey: ["films"],
  queryFn: () => must(client.GET("/api/films")),
});

/** What a scene is cut to from in a film, and what it is cut to; asked for again for another scene. */
export const neighboursOf = (film_id: number, reel: string, scene: number) =>
  queryOptions({
    queryKey: ["neighbours", film_id, reel, scene],
    queryFn: () =>
      must(client.GET("/api/films/{film_id}/neighbours", { params: { path: { film_id }, query: { reel } } })),
  });

/** Poses that the production keeps. */
export const keptPoses = queryOptions({
  queryKey: ["poses"],
  queryFn: () => must(client.GET("/api/poses")),
});

export const history = (sceneId: number, revision: number) =>
  queryOptions({
    queryKey: ["history", sceneId, revision],
    queryFn: () =>
      must(client.GET("/api/scenes/{scene_id}/history", { params: { path: { scene_id: sceneId } } })),
    placeholderData: (previous) => previous,
  });

/** The parts of a scene, which are locked, and who changed each last. */
export const partsOfScene = (sceneId: number, revision: number) =>
  queryOptions({
    queryKey: ["parts", sceneId, revision],
    queryFn: () =>
      must(client.GET("/api/scenes/{scene_id}/parts", { params: { path: { scene_id: sceneId } } })),
    placeholderData: (previous) => previous,
  });

/** The runs that were cut live, the newest first. */
export const runsOf = (sceneId: number, revision: number) =>
  queryOptions({
    queryKey: ["runs", sceneId, revision],
    queryFn: async () =>
      (await must(
        client.GET("/api/scenes/{scene_id}/runs", { params: { path: { scene_id: sceneId } } }),
      )) as RunLine[],
    placeholderData: (previous) => previous,
  });

/** What a careful eye says of the cut and of its shots. */
export const notesOfCut = (scene_id: number, revision: number) =>
  queryOptions({
    queryKey: ["notes", scene_id, revision],
    queryFn: async () =>
      (await must(
        client.GET("/api/scenes/{scene_id}/notes", { params: { path: { scene_id } } }),
      )) as CutNotes,
    placeholderData: (previous) => previous,
  });

/** Which notes of the cut the last change brought, and which it took away. */
export const notesChanged = (scene_id: number, revision: number) =>
  queryOptions({
    queryKey: ["notes changed", scene_id, revision],
    queryFn: () =>
      must(client.GET("/api/scenes/{scene_id}/notes_changed", { params: { path: { scene_id } } })),
  });

/** What it says of a camera, over all of the stage. */
export const notesOfCamera = (scene_id: number, camera_id: string, revision: number) =>
  queryOptions({
    queryKey: ["notes", scene_id, revision, camera_id],
    queryFn: async () =>
      (await must(
        client.GET("/api/scenes/{scene_id}/notes/{camera_id}", { params: { path: { scene_id, camera_id } } }),
      )) as NoteOut[],
    placeholderData: (previous, query) => (query?.queryKey[3] === camera_id ? previous : undefined),
  });

/** What takes a note away: tried, the smallest change first. */
export const remediesOf = (
  scene_id: number,
  { of, kind, first, last, joint }: NoteOut,
  shot: string | undefined,
  revision: number,
) =>
  queryOptions({
    queryKey: ["remedies", scene_id, revision, of, kind, first, last, shot],
    queryFn: async () =>
      (await must(
        client.GET("/api/scenes/{scene_id}/remedies", {
          params: { path: { scene_id }, query: { kind, first, last, of, shot: joint ? undefined : shot } },
        }),
      )) as RemedyOut[],
    staleTime: Number.POSITIVE_INFINITY,
  });

/** Where the line of action lies at a frame, and on which side of it each camera is. */
export const actionLineAt = (scene_id: number, frame: number, revision: number) =>
  queryOptions({
    queryKey: ["action line", scene_id, frame, revision],
    queryFn: () =>
      must(
        client.GET("/api/scenes/{scene_id}/action_line", {
          params: { path: { scene_id }, query: { frame } },
        }),
      ),
  });

/** Where heads are in a camera's frame. */
export const headsIn = (scene_id: number, camera_id: string, frame: number, revision: number) =>
  queryOptions({
    queryKey: ["heads", scene_id, camera_id, frame, revision],
    queryFn: () =>
      must(
        client.GET("/api/scenes/{scene_id}/heads/{camera_id}", {
          params: { path: { scene_id, camera_id }, query: { frame } },
        }),
      ),
  });

/** What the change that made a revision moved in cameras' pictures. */
export const news = (sceneId: number, revision: number) =>
  queryOptions({
    queryKey: ["news", sceneId, revision],
    queryFn: async () =>
      (await must(
        client.GET("/api/scenes/{scene_id}/news", { params: { path: { scene_id: sceneId } } }),
      )) as News,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });

/** Where cameras are off air, and which of their moves run on into frames on air. */
export const airOf = (sceneId: number, revision: number) =>
  queryOptions({
    queryKey: ["air", sceneId, revision],
    queryFn: () =>
      must(client.GET("/api/scenes/{scene_id}/air", { params: { path: { scene_id: sceneId } } })),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (was) => was,
  });

/** What a camera's move is for the eye that watches a subject, at one revision of a scene. */
export const motionOf = (sceneId: number, camera: string, subject: string, revision: number) =>
  queryOptions({
    queryKey: ["motion", sceneId, camera, subject, revision],
    queryFn: async () => {
      const found = await must(
        client.GET("/api/scenes/{scene_id}/motion/{camera}", {
          params: { path: { scene_id: sceneId, camera }, query: { subject } },
        }),
      );
      return { ...found, strip: unpackStrip(found.strip) };
    },
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (was) => was,
    retry: false,
  });

export const frameLines = (aspect: number, safe: "smpte" | "ebu", protect: string, follow = 0) =>
  queryOptions({
    queryKey: ["lines", aspect, safe, protect, follow],
    queryFn: () => must(client.GET("/api/lines", { params: { query: { aspect, safe, protect, follow } } })),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });

/** What is sharp and what is clipped, for a camera at a frame of one revision of a scene. */
export const glassAt = (sceneId: number, camera: string, frame: number, revision: number) =>
  queryOptions({
    queryKey: ["glass", sceneId, camera, frame, revision],
    queryFn: () =>
      must(
        client.GET("/api/scenes/{scene_id}/glass/{camera}", {
          params: { path: { scene_id: sceneId, camera }, query: { frame } },
        }),
      ),
  });

export const productionKit = queryOptions({
  queryKey: ["kit"],
  queryFn: () => must(client.GET("/api/kit")),
});

/** Everything that was brought into the production. */
export const libraryFiles = queryOptions({
  queryKey: ["files"],
  queryFn: async () => (await client.GET("/api/files")).data ?? [],
});

/** Where a level plane cuts what was brought in: lines in shares of a piece's width and depth, by piece. */
export const outlinesOf = (scene_id: number, stands: string, height: number) =>
  queryOptions({
    queryKey: ["outlines", scene_id, stands, height],
    queryFn: async () =>
      (
        await client.GET("/api/scenes/{scene_id}/outlines", {
          params: { path: { scene_id }, query: { height } },
        })
      ).data ?? {},
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (was) => was,
    enabled: stands !== "",
  });

/** What a cut that came back has otherwise than the one that plays. */
export const comparedWith = (scene_id: number, revision: number, name: string, clips: Schemas["Came"][]) =>
  queryOptions({
    queryKey: ["conform", scene_id, revision, name],
    queryFn: async () =>
      ask(
        client.POST("/api/scenes/{scene_id}/conform/compared", {
          params: { path: { scene_id } },
          body: { clips },
        }),
      ),
    placeholderData: (was) => was,
    enabled: clips.length > 0,
  });
