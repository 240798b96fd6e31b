import { itemOf, useDocument } from "../store/document";
import type { Kind } from "../store/view";
import { cameraSeen, lookThrough, select, toggleSide, useView } from "../store/view";
import { MenuAt } from "../ui/menu-at";
import { meantCamera, newCamera } from "../verbs/cameras";
import { focusOn } from "../verbs/glass";
import { goBy } from "../verbs/rig";
import { duplicateSelected, frameSelected, removeSelected } from "../verbs/things";

/** What a right press was on: a thing, or nothing. */
export interface Under {
  x: number;
  y: number;
  kind: Kind | null;
  id: string | null;
}

interface Item {
  label: string;
  act: () => unknown;
}

/** The few actions of what is under a right press. */
export function UnderMenu() {
  const under = useView((s) => s.under);
  if (!under) return null;
  return (
    <MenuAt
      at={under}
      items={itemsFor(under)}
      onClose={() => useView.setState({ under: null })}
      label="What can be done here"
    />
  );
}

function itemsFor({ kind, id }: Under): Item[] {
  const scene = useDocument.getState().scene;
  const camera = cameraSeen() ?? meantCamera();
  const own = itemOf(scene, "cameras", camera);
  const carry = !own?.locked && camera !== null;
  if (!kind || !id)
    return [
      { label: "New camera from this view", act: () => void newCamera() },
      ...(carry ? [{ label: "Move…", act: () => toggleSide("move") }] : []),
    ];
  const pick = () => select(kind, [id]);
  const picked = (act: () => unknown) => () => {
    pick();
    return act();
  };
  if (kind === "camera") {
    return [
      { label: "Look through", act: () => lookThrough({ camera: id }) },
      { label: "Select", act: pick },
      { label: "Duplicate", act: picked(duplicateSelected) },
    ];
  }
  const name = [...(scene?.figures ?? []), ...(scene?.movers ?? []), ...(scene?.pieces ?? [])].find(
    (thing) => thing.id === id,
  )?.name;
  const figure = kind === "figure";
  const spot = figure
    ? ({ kind: "figure", figure: id, joint: "eyes" } as const)
    : kind === "mover"
      ? ({ kind: "mover", mover: id } as const)
      : null;
  return [
    { label: `Select ${name}`, act: pick },
    ...(carry && camera && spot
      ? [
          {
            label: "Focus on",
            act: () => focusOn(spot),
          },
          { label: "Watch", act: () => goBy(spot, "aim") },
          { label: "Follow", act: () => goBy(spot, "trail") },
        ]
      : []),
    { label: "Frame with the rover", act: picked(frameSelected) },
    { label: "Delete", act: picked(() => removeSelected()) },
  ];
}
