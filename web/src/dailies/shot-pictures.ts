import { smallPictures } from "./small-pictures";

/** Small pictures of shots' first frames, by the ids of the shots, as addresses of what was drawn here. */
export const { usePictures: useShotPictures, draw: shotPictures } = smallPictures();
