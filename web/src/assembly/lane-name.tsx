import { Headphones, Volume2, VolumeX } from "lucide-react";
import type { ReactNode } from "react";
import type { Sound } from "../api/types";
import { switchLane, useHeard } from "../store/heard";
import { SOUND_LANES } from "../verbs/sounds";

/** A lane's name, with what silences it and what silences the others. */
export function LaneName({ lane, children }: { lane: Sound["lane"]; children?: ReactNode }) {
  const { muted, solo } = useHeard();
  const off = muted.includes(lane);
  const alone = solo.includes(lane);
  const name = SOUND_LANES[lane];
  const look = (on: boolean) => (on ? "text-slate" : "text-faint hover:text-ink");
  return (
    <span className="flex w-full items-center gap-1.5">
      <span className={`flex-1 truncate ${off ? "text-faint line-through" : ""}`}>{children ?? name}</span>
      <button
        type="button"
        className={look(off)}
        aria-pressed={off}
        aria-label={`Mute ${name}`}
        title={off ? "Hear this lane again" : "Mute this lane at this desk"}
        onClick={() => switchLane("muted", lane)}
      >
        {off ? <VolumeX size={13} /> : <Volume2 size={13} />}
      </button>
      <button
        type="button"
        className={look(alone)}
        aria-pressed={alone}
        aria-label={`Solo ${name}`}
        title={alone ? "Hear the other lanes again" : "Hear this lane alone"}
        onClick={() => switchLane("solo", lane)}
      >
        <Headphones size={13} />
      </button>
    </span>
  );
}
