import { useQuery, useQueryClient } from "@tanstack/react-query";
import { FilePlus2, Trash2 } from "lucide-react";
import { useState } from "react";
import { ask, client } from "../api/client";
import { libraryFiles } from "../api/queries";
import type { BroughtFile, Scene } from "../api/types";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { complain, select, useView } from "../store/view";
import { Button } from "../ui/button";
import { count } from "../ui/count";
import { Menu, MenuItem } from "../ui/menu";
import {
  giveCharacter,
  giveMotion,
  keepSelected,
  putThings,
  putUp,
  renew,
  renewEverywhere,
  takeLook,
  takeReference,
  takeRig,
} from "../verbs/bringing";

/** What was brought into this production: each with its picture, where it is used, and what can be done with it. */
export function LibraryPanel() {
  const { data: files } = useQuery(libraryFiles);
  const queries = useQueryClient();
  const [sought, setSought] = useState("");
  const shown = (files ?? []).filter((file) => file.name.toLowerCase().includes(sought.toLowerCase()));
  const here = useDocument((s) => s.id);
  const scene = useDocument((s) => s.scene);
  const inUse = filesOf(scene);
  const selected = useView((s) => s.ids.length > 0 && s.kind !== "shot");
  const unused = (files ?? []).filter(
    (file) => !OWN.includes(file.kind) && !inUse.has(file.key) && !elsewhere(file, here).length,
  );
  const set = (data: BroughtFile[]) => queries.setQueryData(libraryFiles.queryKey, data);
  const clear = async () => {
    const { data, problem } = await ask(client.POST("/api/files/clear"));
    if (complain(problem) && data) set(data);
  };
  return (
    <aside aria-label="Library" className="flex h-full flex-col overflow-hidden bg-paper">
      <div className="flex flex-col gap-2 border-b border-line px-3 py-2">
        <h2 className="heading">Library</h2>
        <div className="flex flex-wrap items-center gap-1.5">
          <Button tone="main" onClick={() => useView.setState({ asking: { what: "bring" } })}>
            <FilePlus2 size={14} /> Bring in…
          </Button>
          <Button
            disabled={!selected}
            tip={selected ? "For any scene, with all that is part of it" : "Select things on the stage first"}
            hint="Alt Shift K"
            onClick={async () =>
              (await keepSelected()) && void queries.invalidateQueries({ queryKey: libraryFiles.queryKey })
            }
          >
            Keep selected
          </Button>
          <Button
            disabled={!unused.length}
            tip={
              unused.length
                ? `Deletes ${unused.map((one) => one.name).join(", ")}`
                : "Every file is used in a scene"
            }
            onClick={() => void clear()}
          >
            Clear {unused.length ? count(unused.length, "unused file") : "unused files"}
          </Button>
        </div>
        {(files?.length ?? 0) > 4 && (
          <input
            className="field w-full"
            aria-label="Find in the library"
            placeholder="Find…"
            value={sought}
            onChange={(e) => setSought(e.target.value)}
          />
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {files && !shown.length && (
          <p className="px-3 py-4 text-sm text-faint">
            {sought
              ? "Nothing here is called that."
              : "Nothing was brought in yet. Drop a set or a prop on the desk: .glb, .gltf, .usd or .obj."}
          </p>
        )}
        {shown.map((file) => (
          <FileRow key={file.id} file={file} all={files ?? []} onChanged={set} />
        ))}
      </div>
    </aside>
  );
}

/** The other scenes that use a file; what this one uses is in its document. */
const elsewhere = (file: BroughtFile, here: number | null) => file.used.filter((one) => one.scene !== here);

/** The files that a scene is made of. */
const filesOf = (scene: Scene | null) =>
  new Set([
    scene?.reference?.file,
    ...(scene?.pieces.map((piece) => piece.source?.file) ?? []),
    ...(scene?.figures.flatMap((one) => [
      one.character ?? undefined,
      ...one.acts.map((act) => (act.kind === "recorded" ? act.file : undefined)),
    ]) ?? []),
  ]);

/** What was not brought in, but kept from a scene. */
const OWN = ["things", "rig", "look"];

const HIGH: Record<string, (file: BroughtFile) => string> = {
  motion: (file) => `${file.seconds.toFixed(1)} s of motion`,
  movie: (file) => `${file.seconds.toFixed(1)} s of movie`,
  rig: () => "Rig, for any camera",
  look: () => "Look, for any figure",
  things: (file) =>
    Object.entries(file.things)
      .filter(([, many]) => many)
      .map(([what, many]) => count(many, what.slice(0, -1)))
      .join(", "),
  character: (file) => `Character, ${file.height_m.toFixed(2)} m tall`,
};
/** Without tenths where there are many: the line is short. */
const megabytes = (bytes: number) =>
  bytes < 2 ** 20 / 10
    ? `${Math.max(Math.round(bytes / 2 ** 10), 1)} kB`
    : `${(bytes / 2 ** 20).toFixed(bytes < 10 * 2 ** 20 ? 1 : 0)} MB`;
const whatItIs = (file: BroughtFile) =>
  `${HIGH[file.kind]?.(file) ?? `${file.height_m.toFixed(2)} m high · ${count(file.parts.length, "part")}`} `;

function FileRow({
  file,
  all,
  onChanged,
}: {
  file: BroughtFile;
  all: BroughtFile[];
  onChanged: (files: BroughtFile[]) => void;
}) {
  const here = useDocument((s) => s.id);
  const pieces = useDocument((s) => s.scene?.pieces) ?? [];
  const own = pieces.filter((piece) => piece.source?.file === file.key);
  const figures = useDocument((s) => s.scene?.figures) ?? [];
  const scene = useDocument((s) => s.scene);
  const moment = useMoment((s) => s.stage);
  const queries = useQueryClient();
  const again = () => void queries.invalidateQueries({ queryKey: libraryFiles.queryKey });
  const where = [
    ...(filesOf(scene).has(file.key) ? ["this scene"] : []),
    ...elsewhere(file, here).map((one) => one.name),
  ];
  const others = all.filter((one) => one.id !== file.id && one.here && ["set", "prop"].includes(one.kind));
  const remove = async () => {
    const { data, problem } = await ask(
      client.DELETE("/api/files/{file_id}", { params: { path: { file_id: file.id } } }),
    );
    if (complain(problem) && data) onChanged(data);
  };
  const put = async (as: "set" | "prop") => {
    if (await putUp(file, as)) again();
  };
  return (
    <div className="flex gap-2.5 border-b border-line px-3 py-2.5" data-library={file.name}>
      {file.pictured ? (
        <img
          src={`/api/files/${file.id}/picture.jpg`}
          alt={file.name}
          className="h-16 w-24 shrink-0 rounded border border-line object-cover"
        />
      ) : (
        <span className="grid h-16 w-24 shrink-0 place-items-center rounded border border-line bg-sheet text-xs text-faint">
          {file.kind}
        </span>
      )}
      <div className="min-w-0 flex-1 text-sm">
        <p className="truncate font-semibold" title={file.name}>
          {file.name}
        </p>
        <p className="truncate text-xs text-faint">
          {whatItIs(file)}· {megabytes(file.size)}
        </p>
        {file.here ? (
          <p className="truncate text-xs" title={where.join(", ")}>
            {where.length
              ? `In ${where.join(", ")}`
              : OWN.includes(file.kind)
                ? "Kept from a scene"
                : "Not used"}
          </p>
        ) : (
          <p className="text-xs text-brick">Its file is gone. Bring it in again.</p>
        )}
        <div className="mt-1.5 flex flex-wrap gap-1">
          {file.kind === "things" ? (
            <Button
              disabled={!file.here}
              tip="Under new names, where the plan is looked at"
              onClick={async () => (await putThings(file)) && again()}
            >
              Add to stage
            </Button>
          ) : file.kind === "motion" ? (
            <Menu trigger={<Button disabled={!file.here || !figures.length}>Give to…</Button>}>
              {figures.map((one) => (
                <MenuItem
                  key={one.id}
                  note="From the playhead on"
                  onSelect={async () => (await giveMotion(file, one.id, true)) && again()}
                >
                  {one.name}
                </MenuItem>
              ))}
            </Menu>
          ) : file.kind === "rig" ? (
            <Menu trigger={<Button disabled={!file.here || !scene?.cameras.length}>Give to…</Button>}>
              {scene?.cameras.map((one) => (
                <MenuItem
                  key={one.id}
                  note="In place of its own"
                  onSelect={async () => (await takeRig(file, one.id)) && again()}
                >
                  {one.letter} {one.name}
                </MenuItem>
              ))}
            </Menu>
          ) : file.kind === "look" ? (
            <Menu trigger={<Button disabled={!file.here || !figures.length}>Give to…</Button>}>
              {figures.map((one) => (
                <MenuItem
                  key={one.id}
                  note="Keeps everything that is acted"
                  onSelect={async () => (await takeLook(file, one.id)) && again()}
                >
                  {one.name}
                </MenuItem>
              ))}
            </Menu>
          ) : file.kind === "movie" ? (
            <Menu trigger={<Button disabled={!file.here}>Use as reference</Button>}>
              <MenuItem
                note="From its first frame on"
                onSelect={async () => (await takeReference(file, "cut", 0)) && again()}
              >
                In step with the cut
              </MenuItem>
              <MenuItem
                note="From the playhead on"
                onSelect={async () => (await takeReference(file, "stage", moment)) && again()}
              >
                In step with the stage
              </MenuItem>
            </Menu>
          ) : file.kind === "character" ? (
            <Menu trigger={<Button disabled={!file.here || !file.told}>Add to stage</Button>}>
              <MenuItem
                note="Where the plan is looked at"
                onSelect={async () => (await giveCharacter(file, null)) && again()}
              >
                As a new figure
              </MenuItem>
              {figures
                .filter((one) => one.character !== file.key)
                .map((one) => (
                  <MenuItem
                    key={one.id}
                    note="Keeps everything that is acted"
                    onSelect={async () => (await giveCharacter(file, one.id)) && again()}
                  >
                    As {one.name}'s body
                  </MenuItem>
                ))}
            </Menu>
          ) : (
            <Menu trigger={<Button disabled={!file.here || !file.told}>Add to stage</Button>}>
              <MenuItem note="A piece for each of its parts" onSelect={() => void put("set")}>
                As a set
              </MenuItem>
              <MenuItem note="One thing that moves" onSelect={() => void put("prop")}>
                As a prop
              </MenuItem>
            </Menu>
          )}
          {own.length > 0 && (
            <Button
              tip="Choose all of it in this scene"
              onClick={() =>
                select(
                  "piece",
                  own.map((one) => one.id),
                )
              }
            >
              Select
            </Button>
          )}
          {(own.length > 0 || file.used.length > 0) && others.length > 0 && file.parts.length > 0 && (
            <Menu trigger={<Button>New version…</Button>}>
              {(own.length ? others : []).map((one) => (
                <MenuItem
                  key={one.id}
                  note={`${one.height_m.toFixed(2)} m high, ${count(one.parts.length, "part")}; in this scene`}
                  onSelect={async () => (await renew(file, one)) && again()}
                >
                  {one.name}
                </MenuItem>
              ))}
              {elsewhere(file, here).length > 0 &&
                others.map((one) => (
                  <MenuItem
                    key={`all ${one.id}`}
                    note={`In ${where.join(", ")}`}
                    onSelect={async () => (await renewEverywhere(file, one)) && again()}
                  >
                    {one.name}, everywhere
                  </MenuItem>
                ))}
            </Menu>
          )}
          {!where.length && (
            <Button tip="Delete it from the library" onClick={() => void remove()}>
              <Trash2 size={13} />
            </Button>
          )}
        </div>
      </div>
    </div>
  );
}
