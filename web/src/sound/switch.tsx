import { Volume2, VolumeX } from "lucide-react";
import { useEffect } from "react";
import { useMoment } from "../store/moment";
import { usePreferences } from "../store/preferences";
import { Button } from "../ui/button";
import { listen, setHeard } from "./player";

/** Has what plays be heard, and the switch that silences it. */
export default function SoundSwitch() {
  const on = usePreferences((s) => s.sound);
  const full = useMoment((s) => s.speed === 1);
  useEffect(listen, []);
  useEffect(() => setHeard(on), [on]);
  return (
    <Button
      tip={
        !on ? "Sound on" : full ? "Silence all sound" : "Silent at this speed: sound plays at full speed only"
      }
      hint="Alt M"
      onClick={() => usePreferences.setState({ sound: !on })}
    >
      {on && full ? <Volume2 size={15} /> : <VolumeX size={15} />}
    </Button>
  );
}
