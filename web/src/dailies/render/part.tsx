import type { ReactNode } from "react";
import type { Render } from "../../api/types";
import { NumberField } from "../../ui/number-field";

/** A part of the dialog: it shows something of what is asked, and changes it. */
export interface Part {
  render: Render;
  onSet: (change: Partial<Render>) => void;
}

/** What belongs together, under a heading. */
export function Titled({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="heading mb-1">{title}</legend>
      {children}
    </fieldset>
  );
}

interface TypedProps extends Part {
  name: "high" | "seconds" | "spare" | "jpeg" | "movie_factor";
  label: string;
  unit?: string;
  digits?: number;
  step?: number;
}

/** A number of what is asked; whether it can be had is said under it all. */
export function Typed({ render, onSet, name, digits = 0, step = 1, ...rest }: TypedProps) {
  return (
    <NumberField
      {...rest}
      digits={digits}
      step={step}
      value={render[name]}
      onSet={async (to) => {
        onSet({ [name]: to });
        return null;
      }}
    />
  );
}
