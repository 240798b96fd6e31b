import { useQuery } from "@tanstack/react-query";
import { Frame } from "lucide-react";
import { useState } from "react";
import { frameLines } from "../api/queries";
import { useDocument } from "../store/document";
import type { Looks } from "../store/looks";
import { setLooks, useView } from "../store/view";
import { Button } from "../ui/button";
import { Popped } from "../ui/menu";
import { JUDGING } from "./judging";

type Switch = Exclude<keyof Looks, "standard" | "aspect" | "judge">;

/** Each way of looking at the picture, and the key that turns it on and off, if any. */
export const LOOK_KEYS: [Switch, string, string][] = [
  ["safe", "A", "Safe areas"],
  ["thirds", "T", "Thirds"],
  ["centre", "M", "Middle of the frame"],
  ["diagonals", "D", "Diagonals"],
  ["golden", "", "Golden section"],
  ["protect", "P", "Protected aspects inside"],
  ["follow", "", "Protected aspects follow whom it is of"],
  ["outside", "O", "Outside the frame, to the film back's edge"],
  ["blur", "B", "Blur of the lens"],
  ["motion", "Y", "Motion over the open shutter, at rest"],
  ["sharp", "S", "Hatch what is sharp"],
  ["mirrored", "Alt+6", "Mirrored, left to right"],
  ["refine", "", "Refine the picture once it rests"],
  ["stills", "", "Pictures on the shots"],
];

/** Words on the buttons over the picture: where there is room for them beside all the cameras. */
export const WORDS = "hidden @xl:group-data-[many=false]/looks:inline @3xl:inline";

/** What lies over the picture, each a key away and remembered. */
export function GuidesPanel() {
  const looks = useView((s) => s.looks);
  const on =
    LOOK_KEYS.filter(([name]) => looks[name] && !["blur", "refine", "stills", "follow"].includes(name))
      .length + (looks.judge ? 1 : 0);
  return (
    <Popped
      label="Guides and other looks"
      trigger={
        <Button aria-label="Guides" title="Guides over the frame, and other ways to look at it">
          <Frame size={14} /> <span className={WORDS}>Guides</span>
          {on ? ` · ${on}` : ""}
        </Button>
      }
    >
      {LOOK_KEYS.map(([name, key, label]) => (
        <label key={name} className="flex items-center gap-2 rounded-sm px-2 py-1 hover:bg-slate-wash">
          <input
            type="checkbox"
            className="accent-slate"
            checked={looks[name]}
            onChange={() => setLooks({ [name]: !looks[name] })}
          />
          <span className="flex-1">{label}</span>
          {key && (
            <kbd className="rounded-sm border border-line px-1 font-sans text-xs text-faint">
              {key.replace("+", " ")}
            </kbd>
          )}
        </label>
      ))}
      <label className="flex items-center gap-2 px-2 py-1">
        <span className="flex-1">To judge it</span>
        <select
          className="field"
          value={looks.judge}
          onKeyDown={(e) => e.stopPropagation()}
          onChange={(e) => setLooks({ judge: e.target.value as Looks["judge"] })}
        >
          <option value="">as it is</option>
          {JUDGING.map(([name, key, label]) => (
            <option key={name} value={name}>
              {label} ({key.replace("+", " ")})
            </option>
          ))}
        </select>
      </label>
      <div className="mt-1 flex flex-col gap-1.5 border-t border-line px-2 pt-2 pb-1">
        <label className="flex items-center gap-2">
          <span className="flex-1 text-faint">Safe areas by</span>
          <select
            className="field"
            value={looks.standard}
            onKeyDown={(e) => e.stopPropagation()}
            onChange={(e) => setLooks({ standard: e.target.value as Looks["standard"] })}
          >
            <option value="smpte">SMPTE ST 2046-1</option>
            <option value="ebu">EBU R 95</option>
          </select>
        </label>
        <Protect />
      </div>
    </Popped>
  );
}

function Protect() {
  const { aspect, standard } = useView((s) => s.looks);
  const frame = useDocument((s) => s.shown?.delivery.aspect) ?? 16 / 9;
  const [text, setText] = useState(aspect);
  const { error } = useQuery(frameLines(frame, standard, text));
  return (
    <div>
      <label className="flex items-center gap-2">
        <span className="flex-1 text-faint">Protect</span>
        <input
          className={`field w-24 ${error ? "border-brick!" : ""}`}
          value={text}
          aria-label="Aspects to protect"
          title="One or more, as 9:16, 1:1"
          onKeyDown={(e) => e.stopPropagation()}
          onChange={(e) => {
            setText(e.target.value);
            if (e.target.value.trim()) setLooks({ aspect: e.target.value, protect: true });
          }}
        />
      </label>
      {error && (
        <p role="alert" className="mt-1 max-w-56 rounded-sm bg-brick-wash px-1.5 py-0.5 text-xs text-brick">
          {error.message}
        </p>
      )}
    </div>
  );
}
