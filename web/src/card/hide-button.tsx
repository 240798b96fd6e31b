import { Eye, EyeOff } from "lucide-react";
import { send } from "../store/sending";
import { complain } from "../store/view";
import { Button } from "../ui/button";

/** Hide things in pictures, or show them again; what follows or stands on them goes on doing so. */
export function HideButton({ things }: { things: { id: string; hidden: boolean }[] }) {
  const hidden = things.every((one) => one.hidden);
  return (
    <Button
      on={hidden}
      tip={
        hidden
          ? "Show in pictures"
          : "Hide in pictures: it is still there for whoever follows it or stands on it"
      }
      onClick={async () =>
        complain(await send({ kind: "things.hide", ids: things.map((one) => one.id), hidden: !hidden }))
      }
    >
      {hidden ? <EyeOff size={14} /> : <Eye size={14} />}
    </Button>
  );
}
