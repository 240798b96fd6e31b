import { SRGBColorSpace, type Texture, TextureLoader } from "three";
import { storedSlateUrl, useSlates } from "../slates";
import { redraw } from "./redraw";

const kept = new Map<string, Texture>();

/** A slate's picture as the drawing takes it in; none until it has arrived. */
export function slateTexture(shot: string): Texture | null {
  const url = storedSlateUrl(shot);
  if (!url) return null;
  let texture = kept.get(url);
  if (!texture) {
    texture = new TextureLoader().load(url, () => {
      useSlates.setState(({ arrived }) => ({ arrived: new Set(arrived).add(url) }));
      redraw(false);
    });
    texture.colorSpace = SRGBColorSpace;
    kept.set(url, texture);
  }
  return useSlates.getState().arrived.has(url) ? texture : null;
}
