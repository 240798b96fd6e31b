import { ChevronLeft, ChevronRight, Columns2, Trash2 } from "lucide-react";
import type { Shot } from "../api/types";
import { holdAgainst } from "../store/against";
import { itemOf, useDocument } from "../store/document";
import { usePreferences } from "../store/preferences";
import { send } from "../store/sending";
import { complain, lookThrough } from "../store/view";
import { Letter } from "../ui/badge";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { OneOf } from "../ui/one-of";
import { chooseVersion, keepVersion, nextVersion } from "../verbs/cutting";
import { Section } from "./section";

/** The angles and lengths kept of a shot: one of them is chosen. */
export function ShotVersions({ shot }: { shot: Shot }) {
  const scene = useDocument((s) => s.scene);
  const cameras = scene?.cameras ?? [];
  const versions = shot.versions ?? [];
  const rows = [
    { name: shot.version || "1", camera: shot.camera, stage: shot.stage, chosen: true },
    ...versions.map((one) => ({ ...one, chosen: false })),
  ];
  rows.sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }));
  const { versionsStay } = usePreferences();
  const lengths = new Set(rows.map(({ stage }) => stage.last - stage.first));
  const drop = async (version: string) =>
    complain(await send({ kind: "cut.edit", do: { edit: "drop_version", shots: [shot.id], version } }));
  return (
    <Section title="Versions">
      {versions.length > 0 && (
        <>
          <ul className="flex flex-col gap-0.5" aria-label="Versions of the shot">
            {rows.map((one) => {
              const camera = itemOf(scene, "cameras", one.camera ?? null);
              const frames = one.stage.last - one.stage.first + 1;
              return (
                <li key={one.name} className="flex items-center gap-1.5 text-sm">
                  <label
                    className={`flex min-w-0 flex-1 items-center gap-1.5 ${one.chosen ? "font-semibold" : ""}`}
                  >
                    <input
                      type="radio"
                      name={`version-${shot.id}`}
                      checked={one.chosen}
                      onChange={() => chooseVersion(shot.id, one.name)}
                    />
                    {camera && <Letter letter={camera.letter} size={18} />}
                    <span className="truncate">{one.name}</span>
                    <span className="text-faint whitespace-nowrap">
                      {one.stage.first}–{one.stage.last} · {frames} f
                    </span>
                  </label>
                  {!one.chosen && (
                    <Button
                      tip={`Hold it beside the chosen one, in step`}
                      aria-label={`${one.name} beside the chosen one`}
                      onClick={async () => {
                        const what = { shot: shot.id, version: one.name };
                        if (complain(await holdAgainst(one.name, what))) lookThrough("cut");
                      }}
                    >
                      <Columns2 size={13} />
                    </Button>
                  )}
                  <Button tip={`Delete version ${one.name}`} onClick={() => drop(one.name)}>
                    <Trash2 size={13} />
                  </Button>
                </li>
              );
            })}
          </ul>
          {lengths.size > 1 && (
            <OneOf
              label="Of another length"
              value={versionsStay ? "stays" : "follows"}
              options={[
                { value: "follows", label: "The cut follows", tip: "All later shots move" },
                {
                  value: "stays",
                  label: "The rest stays",
                  tip: "Black is left, or the next shot is trimmed",
                },
              ]}
              onSet={(value) => usePreferences.setState({ versionsStay: value === "stays" })}
            />
          )}
          <div className="flex gap-1">
            <Button tip="The version before" hint="-" onClick={() => nextVersion(-1)}>
              <ChevronLeft size={14} />
            </Button>
            <Button tip="The next version" hint="=" onClick={() => nextVersion(1)}>
              <ChevronRight size={14} />
            </Button>
          </div>
        </>
      )}
      <Choice
        label="Keep another"
        value=""
        options={[
          { value: "", label: versions.length ? "On camera…" : "None yet. On camera…" },
          ...cameras.map((c) => ({ value: c.id, label: `${c.letter} ${c.name}` })),
        ]}
        onSet={(camera) => camera && void keepVersion(shot, camera)}
      />
    </Section>
  );
}
