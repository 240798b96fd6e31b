import { lazy, type ReactNode, Suspense } from "react";
import { afterFirstPicture } from "../store/first";
import { fetched } from "./fetched";

const parts = () => afterFirstPicture().then(() => fetched(() => import("./menu-parts")));
const Opened = lazy(() => parts().then((m) => ({ default: m.Menu })));
export const MenuItem = lazy(() => parts().then((m) => ({ default: m.MenuItem })));
const Settings = lazy(() => parts().then((m) => ({ default: m.Popped })));

/** What opens under a button; its parts come after the first picture, the button is there before. */
export function Menu(props: { trigger: ReactNode; children: ReactNode }) {
  return (
    <Suspense fallback={props.trigger}>
      <Opened {...props} />
    </Suspense>
  );
}

/** Settings that stay open under a button. */
export function Popped(props: { trigger: ReactNode; label: string; children: ReactNode }) {
  return (
    <Suspense fallback={props.trigger}>
      <Settings {...props} />
    </Suspense>
  );
}
