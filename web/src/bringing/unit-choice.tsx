import type { BroughtFile, Unit } from "../api/types";
import type { Incoming } from "../store/bringing";
import { Button } from "../ui/button";
import { Choice } from "../ui/choice";
import { readAgain } from "../verbs/bringing";

const UNITS: { value: Unit; label: string }[] = [
  { value: "m", label: "metres" },
  { value: "cm", label: "centimetres" },
  { value: "mm", label: "millimetres" },
  { value: "inch", label: "inches" },
  { value: "foot", label: "feet" },
];

/** The unit of a file; where it is in doubt, the likely one is offered with one press. */
export function UnitChoice({ file, there }: { file: Incoming; there: BroughtFile }) {
  return (
    <div>
      <Choice
        label={there.told ? "Unit" : "Unit (the likely one)"}
        value={(there.unit ?? "m") as Unit}
        options={UNITS}
        onSet={(unit) => void readAgain(file.id, { unit })}
      />
      {!there.told && (
        <span className="mt-1.5 flex items-center gap-2 text-sm text-brick">
          The file's unit is in doubt.
          <Button onClick={() => void readAgain(file.id, { unit: there.unit as Unit })}>
            It is {UNITS.find((one) => one.value === there.unit)?.label}
          </Button>
        </span>
      )}
    </div>
  );
}
