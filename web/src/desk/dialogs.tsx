import { BringDialog } from "../bringing/bring-dialog";
import { RenderDialog } from "../dailies/render/dialog";
import { StillDialog } from "../dailies/still-dialog";
import { TakesWindow } from "../dailies/takes/takes-window";
import { HandOverDialog } from "../handover/handover-dialog";
import { useView } from "../store/view";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { deleteThings } from "../verbs/things";
import { ACTIONS } from "./actions";
import { FindDialog } from "./find-dialog";
import { keyShown, ON_PANELS } from "./keys";
import { KitDialog } from "./kit-dialog";

const close = () => useView.setState({ asking: null });

/** Whatever the desk has to ask. */
export function Dialogs() {
  const asking = useView((s) => s.asking);
  if (!asking) return null;
  if (asking.what === "delete") return <DeleteThings ids={asking.ids} sentence={asking.sentence} />;
  if (asking.what === "find") return <FindDialog typed={asking.typed ?? ""} onClose={close} />;
  if (asking.what === "still") return <StillDialog onClose={close} />;
  if (asking.what === "render")
    return <RenderDialog shots={asking.shots} camera={asking.camera} onClose={close} />;
  if (asking.what === "takes") return <TakesWindow take={asking.take} scene={asking.scene} onClose={close} />;
  if (asking.what === "bring") return <BringDialog onClose={close} />;
  if (asking.what === "handover") return <HandOverDialog onClose={close} />;
  if (asking.what === "kit") return <KitDialog onClose={close} />;
  return (
    <Dialog title="Keys" onClose={close}>
      <table className="w-full text-sm">
        <tbody>
          {[...ACTIONS.filter((a) => a.keys).map((a) => [keyShown(a), a.does]), ...ON_PANELS].map(
            ([key, does]) => (
              <tr key={key} className="border-b border-line/60">
                <td className="py-1 pr-4 font-semibold whitespace-nowrap">{key}</td>
                <td>{does}</td>
              </tr>
            ),
          )}
        </tbody>
      </table>
    </Dialog>
  );
}

/** What a deletion takes with it, before it does. */
function DeleteThings({ ids, sentence }: { ids: string[]; sentence: string }) {
  const [did, ...more] = sentence.split("; ");
  const what = did.replace(/^Deleted /, "");
  return (
    <Dialog title={`Delete ${what}?`} onClose={close}>
      <ul className="mb-4 list-disc pl-5 text-sm">
        {more.map((one) => (
          <li key={one}>{one[0].toUpperCase() + one.slice(1)}.</li>
        ))}
      </ul>
      <p className="mb-3 text-sm text-faint">Undo brings all of it back.</p>
      <div className="flex justify-end gap-2">
        <Button onClick={close}>Keep</Button>
        <Button
          tone="wrong"
          autoFocus
          onClick={async () => {
            close();
            await deleteThings(ids, true);
          }}
        >
          Delete {ids.length === 1 ? "it" : "them"}
        </Button>
      </div>
    </Dialog>
  );
}
