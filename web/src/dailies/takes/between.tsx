import type { Take } from "../../api/types";

interface Props {
  newer: Take;
  older: Take;
  different: string[];
  done: string[];
}

/** What changed from one take to the next: which shots look different, and what was done. */
export function Between({ newer, older, different, done }: Props) {
  return (
    <section className="px-3 py-2 text-sm" data-testid="between">
      <h3 className="heading mb-1">
        From take {older.number} to take {newer.number}
      </h3>
      <ul className="mb-2">
        {different.map((one) => (
          <li key={one} className="py-0.5">
            {one}
          </li>
        ))}
      </ul>
      {done.length > 0 && (
        <>
          <h4 className="text-xs text-faint">What was done</h4>
          <ul
            className="max-h-48 overflow-auto"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: what is scrolled is scrolled by keys too
            tabIndex={0}
            aria-label="What was done, newest first"
          >
            {[...done].reverse().map((one, i) => (
              <li key={`${i} ${one}`} className="py-0.5 text-xs">
                {one}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
