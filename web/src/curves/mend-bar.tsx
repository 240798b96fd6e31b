import { useEffect } from "react";
import { useCurves } from "../store/curves";
import { useDocument } from "../store/document";
import { useMoment } from "../store/moment";
import { useKeysPicked } from "../store/picked";
import { dropOverlay, endTry, send, tryOut } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";
import { subjectSpot } from "../verbs/curves";

interface Hitch {
  first: number;
  last: number;
  sentence: string;
  kind: string;
}

/** A hitch in words, the smallest change that takes it away as before and after, and taking or leaving it. */
export function MendBar({ hitch }: { hitch: Hitch }) {
  const watched = useCurves((s) => s.watched);
  const proposed = useKeysPicked((s) => s.proposed);
  const says = useDocument((s) => s.overlay?.sentence);
  const refused = useDocument((s) => s.refused);
  const spot = watched && subjectSpot(watched.subject);
  const command = watched &&
    spot && {
      kind: "camera.mend" as const,
      camera: watched.camera,
      subject: spot,
      first: hitch.first,
      last: hitch.last,
    };
  const leave = () => {
    endTry();
    dropOverlay();
    useKeysPicked.setState({ hitch: null, proposed: false });
  };
  useEffect(
    () => () => {
      endTry();
      dropOverlay();
    },
    [],
  );
  return (
    <div
      className="relative z-11 flex h-8 shrink-0 items-center gap-2 border-b border-line bg-brick-wash px-2 text-sm"
      data-testid="mend-bar"
      role="status"
    >
      <span className="min-w-0 flex-1 truncate">
        <b>{hitch.sentence}.</b>{" "}
        {proposed && (refused ?? (says ? `${says}.` : "Looking for the smallest change…"))}
      </span>
      {!proposed && command && (
        <Button
          className="h-6"
          onClick={() => {
            useKeysPicked.setState({ proposed: true });
            tryOut(command, useMoment.getState().stage);
          }}
        >
          {hitch.kind === "chord" ? "Make it an arm" : "Propose a mend"}
        </Button>
      )}
      {proposed && command && (
        <Button
          tone="main"
          className="h-6"
          disabled={!says}
          onClick={async () => {
            endTry();
            if (complain(await send(command))) useKeysPicked.setState({ hitch: null, proposed: false });
          }}
        >
          Take it
        </Button>
      )}
      <Button className="h-6" onClick={leave}>
        {proposed ? "Leave it" : "Close"}
      </Button>
    </div>
  );
}
