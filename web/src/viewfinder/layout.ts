/** A place in the mat, pixels from its upper left. */
export interface Rect {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** The room round a frame in its mat. */
export const MAT = 10;
const APART = 8;

const fitted = (aspect: number, left: number, top: number, width: number, height: number): Rect => {
  const wide = Math.max(Math.floor(Math.min(width, height * aspect)), 0);
  const high = Math.round(wide / aspect);
  return {
    left: Math.round(left + (width - wide) / 2),
    top: Math.round(top + (height - high) / 2),
    width: wide,
    height: high,
  };
};

interface Asked {
  room: { width: number; height: number };
  /** Of the picture; null for the rover's, which fills what room there is. */
  aspect: number | null;
  /** Of the small picture beside it, and how wide that is to be; null without one. */
  inset: { aspect: number; width: number; beside: boolean } | null;
}

/** Where the picture and the small one beside it lie: the frame is as large as what is left allows. */
export function laidOut({ room, aspect, inset }: Asked): { main: Rect; inset: Rect | null } {
  const { width, height } = room;
  const whole = { left: 0, top: 0, width, height };
  const main = (left: number, top: number, w: number, h: number) =>
    aspect === null
      ? { left, top, width: Math.max(w, 0), height: Math.max(h, 0) }
      : fitted(aspect, left + MAT, top + MAT, w - 2 * MAT, h - 2 * MAT);
  if (!inset) return { main: aspect === null ? whole : main(0, 0, width, height), inset: null };
  if (inset.beside) {
    const half = (width - APART) / 2;
    return {
      main: main(0, 0, half, height),
      inset: fitted(inset.aspect, half + APART, MAT, half - MAT, height - 2 * MAT),
    };
  }
  const wide = Math.min(inset.width, width * 0.6, (height - 3 * APART) * 0.6 * inset.aspect);
  const small = { left: APART, top: APART, width: Math.round(wide), height: Math.round(wide / inset.aspect) };
  // The rover's picture is not a frame: it goes on behind the small one.
  if (aspect === null) return { main: whole, inset: small };
  const under = main(0, small.height + APART, width, height - small.height - APART);
  const right = main(small.width + APART, 0, width - small.width - APART, height);
  return { main: under.width >= right.width ? under : right, inset: small };
}

/** The small picture over a corner of the plan, below it or above it; it leaves most of the width free. */
export function inCorner(corner: HTMLElement, width: number, below: boolean): Rect {
  const room = corner.parentElement?.clientWidth ?? 0;
  const wide = Math.round(Math.min(width, room * 0.6));
  const high = Math.round((wide * 9) / 16);
  return { left: 0, top: below ? 0 : -high, width: wide, height: high };
}
