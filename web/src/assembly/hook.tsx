/** On what hangs on a word: it comes down from the lines. */
export const Hook = () => (
  <svg
    aria-hidden="true"
    viewBox="0 0 8 10"
    className="pointer-events-none absolute top-0 left-0 h-2.5 w-2"
    data-hook
  >
    <path d="M0 0H8L4 6Z" className="fill-ochre" />
  </svg>
);
