import { ChevronDown, ChevronRight } from "lucide-react";
import { type ReactNode, useState } from "react";

interface Props {
  title: string;
  children: ReactNode;
  side?: ReactNode;
  /** What is said in place of the contents while they are folded away; a section without it is always open. */
  folded?: ReactNode;
}

const slot = (title: string) => `heron-open-${title}`;

/** Whether a part of a card is unfolded, remembered under its title, and what folds it. */
function useFold(title: string): [boolean, () => void] {
  const [open, setOpen] = useState(localStorage.getItem(slot(title)) === "yes");
  return [
    open,
    () => {
      localStorage.setItem(slot(title), open ? "no" : "yes");
      setOpen(!open);
    },
  ];
}

function FoldButton({
  title,
  open,
  toggle,
  look,
  says,
}: {
  title: string;
  open: boolean;
  toggle: () => void;
  look: string;
  says?: string;
}) {
  return (
    <button
      type="button"
      aria-expanded={open}
      className={`flex items-center gap-0.5 ${look}`}
      onClick={toggle}
    >
      {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
      {title}
      {says && <span className="ml-1 truncate text-xs">{says}</span>}
    </button>
  );
}

/** Less used numbers of a list, folded away behind a line that says what they are. */
export function Fold({ title, folded, children }: { title: string; folded: string; children: ReactNode }) {
  const [open, toggle] = useFold(title);
  return (
    <>
      <FoldButton
        {...{ title, open, toggle }}
        says={open ? "" : folded}
        look="text-sm text-faint hover:text-ink"
      />
      {open && children}
    </>
  );
}

/** A part of a card; one that can be folded away remembers whether it is. */
export function Section({ title, children, side, folded }: Props) {
  const folds = folded !== undefined;
  const [unfolded, toggle] = useFold(title);
  const open = !folds || unfolded;
  return (
    <section className="border-b border-line px-3 py-2.5">
      <div className="mb-1.5 flex items-center justify-between gap-2 last:mb-0">
        {folds ? (
          <FoldButton {...{ title, open, toggle }} look="heading" />
        ) : (
          <h2 className="heading">{title}</h2>
        )}
        {open ? side : <span className="min-w-0 truncate text-xs text-faint">{folded}</span>}
      </div>
      {open && <div className="flex flex-col gap-1.5">{children}</div>}
    </section>
  );
}
