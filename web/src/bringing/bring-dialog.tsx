import { useQuery, useQueryClient } from "@tanstack/react-query";
import { FilePlus2, X } from "lucide-react";
import { useRef } from "react";
import { libraryFiles } from "../api/queries";
import type { BroughtFile } from "../api/types";
import { type Incoming, setIncoming, useBringing } from "../store/bringing";
import { useDocument } from "../store/document";
import { notice, useView } from "../store/view";
import { Button } from "../ui/button";
import { count } from "../ui/count";
import { Dialog } from "../ui/dialog";
import { OneOf } from "../ui/one-of";
import { Refusal } from "../ui/refusal";
import {
  ALL_FILES,
  bringAll,
  hangPicture,
  keepPicture,
  leaveOut,
  putUp,
  readAgain,
  readBeside,
  renewPicture,
} from "../verbs/bringing";
import { CamerasRead } from "./cameras-read";
import { CharacterRead } from "./character-read";
import { MotionRead } from "./motion-read";
import { MovieRead } from "./movie-read";
import { Preview } from "./preview";
import { UnitChoice } from "./unit-choice";

/** Files on their way in: each is sent, read, looked at, and only then put on the stage or kept. */
export function BringDialog({ onClose }: { onClose: () => void }) {
  const files = useBringing((s) => s.files);
  const chosen = useBringing((s) => s.chosen);
  const one = files.find((file) => file.id === chosen) ?? files[0];
  const picker = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const close = () => {
    for (const file of useBringing.getState().files) if (!file.reading?.file) file.stop.abort();
    const kept = useBringing.getState().files.filter((file) => file.reading?.file && !file.put).length;
    useBringing.setState({ files: [], chosen: null, onto: null });
    void queries.invalidateQueries({ queryKey: libraryFiles.queryKey });
    onClose();
    if (kept) notice("Kept in the library.", "", false);
  };
  return (
    <Dialog title="Bring in" onClose={close} wide>
      <div className="flex gap-4" data-testid="bringing">
        <div className="flex w-56 shrink-0 flex-col gap-1">
          {files.map((file) => (
            <Row key={file.id} file={file} on={file.id === one?.id} />
          ))}
          <Button onClick={() => picker.current?.click()}>
            <FilePlus2 size={14} /> {files.length ? "More files…" : "Choose files…"}
          </Button>
          <input
            ref={picker}
            type="file"
            multiple
            hidden
            accept={ALL_FILES}
            aria-label="Files to bring in"
            onChange={(e) => void bringAll([...(e.target.files ?? [])])}
          />
          <p className="text-xs text-faint">
            Sets, props and characters as .glb, .gltf, .usd or .obj, together with the files they name, such
            as pictures; motion as .bvh or a clip of a .glb; cameras of a .glb or .usd; pictures; a reference
            movie (.mp4). Dialogue and sounds are laid at once.
          </p>
        </div>
        <div className="min-w-0 flex-1">{one ? <Looked file={one} onPut={close} /> : <Empty />}</div>
      </div>
    </Dialog>
  );
}

const Empty = () => (
  <p className="grid h-72 place-items-center rounded border border-dashed border-line text-sm text-faint">
    Drop files anywhere on the desk, or choose them.
  </p>
);

function Row({ file, on }: { file: Incoming; on: boolean }) {
  const share = file.source ? 0.3 + 0.7 * (file.reading?.share ?? 0) : 0.3 * file.sent;
  return (
    <div
      className={`rounded border px-2 py-1.5 ${on ? "border-slate bg-slate-wash" : "border-line"}`}
      data-file={file.name}
    >
      <div className="flex items-center gap-1">
        <button
          type="button"
          className="min-w-0 flex-1 truncate text-left text-sm"
          aria-pressed={on}
          onClick={() => useBringing.setState({ chosen: file.id })}
        >
          {file.name}
        </button>
        <button
          type="button"
          aria-label={busy(file) ? `Stop reading ${file.name}` : `Leave ${file.name} out`}
          title={busy(file) ? "Stop" : "Leave it out"}
          onClick={() => leaveOut(file.id)}
        >
          <X size={13} />
        </button>
      </div>
      {busy(file) ? (
        <div className="mt-1 flex items-center gap-1.5">
          <div
            className="h-1 flex-1 overflow-hidden rounded bg-line"
            role="progressbar"
            aria-label={`Reading ${file.name}`}
            aria-valuenow={Math.round(share * 100)}
          >
            <div className="h-full bg-slate" style={{ width: `${100 * share}%` }} />
          </div>
          <span className="text-xs text-faint">{stateOf(file)}</span>
        </div>
      ) : (
        <p className="truncate text-xs text-faint">{stateOf(file)}</p>
      )}
    </div>
  );
}

const busy = (file: Incoming) =>
  !file.problem && (!file.source || !file.reading || ["waiting", "reading"].includes(file.reading.state));

function stateOf(file: Incoming): string {
  if (file.put) return "on the stage";
  if (file.problem || file.reading?.state === "refused") return "cannot be read";
  if (!file.source) return "sending";
  if (file.reading?.state === "waiting") return "waiting";
  if (!file.reading || file.reading.state === "reading") return "reading";
  return file.reading.file || file.reading.tracks.length ? "read" : (file.reading.kind ?? "read");
}

/** What is known of one of them, and what can be done with it. */
function Looked({ file, onPut }: { file: Incoming; onPut: () => void }) {
  const refused = file.problem ?? file.reading?.problem ?? null;
  if (refused) {
    const heavy = file.reading?.problem?.field === "lighter";
    return (
      <div className="flex flex-col gap-3">
        <Refusal problem={{ title: refused.reason, remedy: refused.remedy }} />
        <span>
          {heavy ? (
            <Button tone="main" onClick={() => readAgain(file.id, { lighter: true })}>
              Read a lighter copy
            </Button>
          ) : (
            <Button onClick={() => leaveOut(file.id)}>Leave it out</Button>
          )}
        </span>
      </div>
    );
  }
  const there = file.reading?.file;
  if (file.reading?.tracks.length)
    return <CamerasRead file={file} tracks={file.reading.tracks} onPut={onPut} />;
  if (!there)
    return (
      <p className="grid h-72 place-items-center rounded border border-line text-sm text-faint">
        {busy(file)
          ? "It is being read…"
          : `It holds ${file.reading?.kind ?? "nothing"} alone, which cannot be brought in yet.`}
      </p>
    );
  const Shown = LOOKED[there.kind] ?? ThatWasRead;
  return <Shown key={file.id} file={file} there={there} onPut={onPut} />;
}

/** How each kind of file is looked at; all others as sets and props are. */
const LOOKED: Record<string, typeof MotionRead> = {
  motion: MotionRead,
  character: CharacterRead,
  movie: MovieRead,
};

const metres = (value: number) => (value < 0.1 ? `${(value * 1000).toFixed(0)} mm` : `${value.toFixed(2)} m`);

function ThatWasRead({ file, there, onPut }: { file: Incoming; there: BroughtFile; onPut: () => void }) {
  const put = async (as: "set" | "prop") => {
    if (!(await putUp(there, as))) return;
    setIncoming(file.id, { put: true });
    if (useBringing.getState().files.every((one) => one.put)) onPut();
  };
  const why = there.told ? undefined : "Choose the unit first";
  const [wide, high, deep] = there.size_m;
  // One that is selected can be replaced by the one that came, or that hung on a side of it.
  const { data: library } = useQuery(libraryFiles);
  const pieces = useDocument((s) => s.scene?.pieces);
  const selected = useView((s) => (s.kind === "piece" && s.ids.length === 1 ? s.ids[0] : null));
  const over = pieces?.find((one) => one.id === selected);
  const fell = useBringing((s) => s.onto?.piece === selected && selected !== null);
  const framed = library?.some((one) => one.key === over?.source?.file && one.kind === "picture");
  const done = async (kept: Promise<boolean>) => (await kept) && onPut();
  return (
    <div className="flex flex-col gap-3">
      <Preview file={there.key} onPicture={(picture) => void keepPicture(there, picture)} />
      <p className="text-sm" data-testid="measures">
        <b>{metres(high)} high</b>, {metres(wide)} wide, {metres(deep)} deep ·{" "}
        {there.triangles.toLocaleString("en-GB")} triangles · {count(there.parts.length, "part")}
      </p>
      <div className="grid grid-cols-2 items-start gap-x-6 gap-y-2">
        <UnitChoice file={file} there={there} />
        <div className="flex items-center gap-2 text-sm">
          <span className="text-faint">Up</span>
          <OneOf
            label="Which of its axes is up"
            value={there.up as "y" | "z"}
            options={[
              { value: "y", label: "Y" },
              { value: "z", label: "Z" },
            ]}
            onSet={(up) => void readAgain(file.id, { up })}
          />
        </div>
      </div>
      {[...there.hints, ...there.left_out].map((one) => (
        <p key={one} className="text-sm text-faint">
          {one}
        </p>
      ))}
      <div className="flex flex-wrap items-center justify-end gap-2 border-t border-line pt-3">
        {there.cameras.length > 0 && (
          <Button
            tip="With their moves and lenses, as keys"
            onClick={() => readBeside(file, { cameras: true })}
          >
            Its {count(there.cameras.length, "camera")}…
          </Button>
        )}
        <span className="flex-1" />
        <Button onClick={onPut} tip="It stays in the library, for any scene">
          Keep in the library
        </Button>
        {there.kind === "picture" &&
          over &&
          (framed ? (
            <Button
              tone={fell ? "main" : undefined}
              tip="It keeps its place, its width and its height"
              onClick={() => done(renewPicture(over, there))}
            >
              In place of {over.name}
            </Button>
          ) : (
            <Button
              tone={fell ? "main" : undefined}
              tip="On the side that faces you, as large as goes on it"
              onClick={() => done(hangPicture(over, there))}
            >
              Hang on {over.name}
            </Button>
          ))}
        <Button
          tone={there.kind === "prop" ? "main" : undefined}
          disabled={!there.told}
          tip={why ?? "One thing that moves, is held and is ridden on"}
          onClick={() => put("prop")}
        >
          Add as a prop
        </Button>
        <Button
          tone={there.kind === "prop" || fell ? undefined : "main"}
          disabled={!there.told}
          tip={why ?? "A piece for each of its parts, its origin on the stage's"}
          onClick={() => put("set")}
        >
          {there.kind === "picture" ? "Add as a backdrop" : "Add as a set"}
        </Button>
      </div>
    </div>
  );
}
