import type { Scene } from "../api/types";
import { rate } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { send } from "../store/sending";
import { complain, useView } from "../store/view";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { NumberField } from "../ui/number-field";
import { HeldAgainst } from "./held-against";
import { Section } from "./section";

/** The reference movie of the scene, and how it is held against the picture. */
export function Reference({ scene }: { scene: Scene }) {
  const { movie: held, movieStrength } = usePreferences();
  const { reference } = scene;
  return (
    <Section
      title="Reference movie"
      side={
        <Button onClick={() => useView.setState({ asking: { what: "bring" } })}>
          {reference ? "Another…" : "Choose a movie…"}
        </Button>
      }
    >
      {!reference && (
        <p className="text-sm text-faint">
          An MP4 beside the picture or under it, in step: a story reel, or what was filmed.
        </p>
      )}
      {reference && (
        <>
          <p className="text-sm" data-testid="reference">
            <b>{reference.name}</b>, {reference.seconds.toFixed(2)} s at {Number(reference.fps.toFixed(3))}{" "}
            pictures a second
          </p>
          <Choice
            label="In step with"
            value={reference.clock}
            options={[
              { value: "cut", label: "the cut" },
              { value: "stage", label: "the stage" },
            ]}
            onSet={async (clock) => complain(await send({ kind: "reference.move", clock }))}
          />
          <NumberField
            label="Begins at frame"
            value={reference.first}
            digits={0}
            step={1}
            unit="f"
            perSecond={rate()}
            onSet={(first, at) => send({ kind: "reference.move", first: Math.round(first) }, at)}
          />
          <HeldAgainst
            held={held}
            strength={movieStrength}
            over={{ label: "Under", tip: "Under the camera's picture, which is seen through" }}
            onSet={({ held: movie = held, strength = movieStrength }) =>
              usePreferences.setState({ movie, movieStrength: strength })
            }
          />
          <Button onClick={async () => complain(await send({ kind: "reference.leave" }))}>Take it off</Button>
        </>
      )}
    </Section>
  );
}
