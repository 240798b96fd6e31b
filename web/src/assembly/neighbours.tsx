import { useQuery } from "@tanstack/react-query";
import { ArrowLeft, ArrowRight } from "lucide-react";
import { useEffect, useState } from "react";
import { neighboursOf } from "../api/queries";
import type { Neighbour } from "../api/types";
import { drawnSmall } from "../picture/drawer";
import { Letter } from "../ui/badge";
import { filmOf, openInFilm } from "../verbs/film";

const HIGH = 72;

/** Where the scene was opened from a film: the frames of other scenes that it is cut to from, and cuts to. */
export default function Neighbours({ scene }: { scene: number }) {
  const from = filmOf();
  const { data } = useQuery({
    ...neighboursOf(from?.film ?? 0, from?.reel ?? "", scene),
    enabled: from !== null,
  });
  return (
    <>
      {data?.before && <Other one={data.before} after={false} />}
      {data?.after && <Other one={data.after} after />}
    </>
  );
}

function Other({ one, after }: { one: Neighbour; after: boolean }) {
  const [address, setAddress] = useState("");
  const { scene, pictured } = one;
  const key = JSON.stringify([scene, pictured]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: one picture for each frame
  useEffect(() => {
    const wanted = new AbortController();
    let made = "";
    if (pictured)
      drawnSmall(scene, pictured, HIGH, wanted.signal).then(
        (picture) => {
          made = URL.createObjectURL(picture);
          setAddress(made);
        },
        () => {}, // Without a picture the words are still there.
      );
    return () => {
      wanted.abort();
      URL.revokeObjectURL(made);
      setAddress("");
    };
  }, [key]);
  const Arrow = after ? ArrowRight : ArrowLeft;
  return (
    <button
      type="button"
      className="flex h-9 min-w-0 items-center gap-1.5 rounded-[3px] border border-line bg-sheet px-1 text-left text-xs hover:bg-well"
      title={`${after ? "The film goes on with" : "Before this the film shows"} shot ${one.shot} of ${one.name}: a press opens it there`}
      aria-label={`${after ? "Next" : "Before"} in the film: shot ${one.shot} of ${one.name}`}
      data-testid={after ? "film-after" : "film-before"}
      onClick={() => openInFilm(one)}
    >
      {!after && <Arrow size={13} className="shrink-0" />}
      <span
        className="h-7 shrink-0 overflow-hidden bg-mat"
        style={{ aspectRatio: pictured?.aspect ?? 16 / 9 }}
      >
        {address && <img src={address} alt="" className="h-full w-full" />}
      </span>
      <span className="min-w-0">
        <span className="block truncate">{one.name}</span>
        <span className="flex items-center gap-1">
          <b>{one.shot}</b>
          {one.letter && <Letter letter={one.letter} size={14} />}
        </span>
      </span>
      {after && <Arrow size={13} className="shrink-0" />}
    </button>
  );
}
