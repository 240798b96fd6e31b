import { afterFirstPicture } from "../store/first";
import { fetched } from "../ui/fetched";
import type { Worked } from "./state";

// What a hand needs comes after the first picture.
const session = afterFirstPicture().then(() => fetched(() => import("./session")));

/** Take something in hand, or let go of it when it is in hand already. */
export const operate = (thing: Worked): void => void session.then((found) => found.operate(thing));
