/** The button that was last pressed with the mouse: it has the focus, but not the keyboard's attention. */
let clicked: Element | null = null;

const BUTTONS = "button, [role=tab], [role=button]";

window.addEventListener(
  "pointerdown",
  (e) => {
    clicked = e.target instanceof Element ? e.target.closest(BUTTONS) : null;
  },
  true,
);
window.addEventListener(
  "keydown",
  (e) => {
    if (e.key === "Tab") clicked = null;
  },
  true,
);

/** The button about a place, if any. */
export const buttonAt = (target: Element): HTMLElement | null => target.closest<HTMLElement>(BUTTONS);

/** Whether a key is for a button: the keyboard went there. One that was clicked has only been left behind. */
export const keyboardIsOn = (button: Element | null): boolean =>
  button !== null && button !== clicked && button.matches(":focus-visible");
