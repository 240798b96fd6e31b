import { useEffect } from "react";
import type { News } from "../api/types";
import { smallPictures, type Wanted } from "./small-pictures";

type Moved = News["moved"][number];
const { usePictures, draw } = smallPictures();

const nameOf = (one: Moved, at: string, revision: number) => `${revision} ${one.camera} ${one.frame} ${at}`;

/** The frame that changed most, before the last change and after it. */
export function BeforeAfter({ one, revision }: { one: Moved; revision: number }) {
  const of = usePictures((s) => s.of);
  return (
    <span className="mt-1 grid grid-cols-2 gap-1">
      {(["before", "after"] as const).map((when) => {
        const picture = of[nameOf(one, when, revision)];
        const label = `${when === "before" ? "Before" : "After"}, ${one.frame}`;
        return (
          <span key={when} className="flex flex-col text-xs text-faint">
            <span className="aspect-video overflow-hidden rounded-[2px] border border-line bg-well">
              {picture && <img src={picture} alt={label} className="h-full w-full object-cover" />}
            </span>
            {label}
          </span>
        );
      })}
    </span>
  );
}

/** Has the worst frame of each line drawn, as it was and as it is, while the panel is open. */
export default function MovedPictures({ scene, news }: { scene: number; news: News }) {
  useEffect(() => {
    const { revision, moved } = news;
    const frames = (when: "before" | "after", at?: number): Wanted[] =>
      moved.map((one) => ({
        name: nameOf(one, when, revision),
        camera: one.camera,
        stage: one.frame,
        at,
      }));
    const once = (all: Wanted[]) => [...new Map(all.map((one) => [one.name, one])).values()];
    void draw(scene, revision, once([...frames("before", revision - 1), ...frames("after")]));
  }, [scene, news]);
  return null;
}
