import { Volume2, VolumeX } from "lucide-react";
import { useEffect } from "react";
import { usePreferences } from "../store/preferences";
import { Button } from "../ui/button";
import { listen, setHeard } from "./player";

/** Has what plays be heard, and the switch that silences it. */
export default function SoundSwitch() {
  const on = usePreferences((s) => s.sound);
  useEffect(listen, []);
  useEffect(() => setHeard(on), [on]);
  return (
    <Button
      tip={on ? "Silence all sound" : "Sound on"}
      hint="Alt M"
      onClick={() => usePreferences.setState({ sound: !on })}
    >
      {on ? <Volume2 size={15} /> : <VolumeX size={15} />}
    </Button>
  );
}
