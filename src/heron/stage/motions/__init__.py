"""Motion that was recorded: kept as what a lay figure's joints do, in lengths of a leg."""

from heron.stage.motions.recording import Recording, read_recording, recording_of, write_recording

__all__ = ["Recording", "read_recording", "recording_of", "write_recording"]
