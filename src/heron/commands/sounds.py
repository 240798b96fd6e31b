"""Commands on sounds: laid on the stage, on a line or in the cut, and changed."""

from collections.abc import Iterable
from itertools import count
from typing import Any, Literal

from pydantic import Field

from heron.commands.base import Command, Outcome
from heron.errors import BadInput, NotFound, Refused
from heron.lines import timed
from heron.model import Id, Name, changed, new_id
from heron.scene import Scene, find, replace
from heron.scene.line import Line
from heron.scene.sound import FileKey, Level, Sound, SoundLane, Try
from heron.sound.clips import stage_first
from heron.sound.samples import RATE, frames_for, sample_of
from heron.timebase import MAX_FRAMES, parse_rate
from heron.timebase.frames import FrameNumber

MOST = 5000


class AddSound(Command):
    """Lay a sound on a line, on the stage, or in the cut. A bed and music lie in the cut unless it is said otherwise.

    Without a length it is as long as its file. A line lasts as long as its sound does; another sound for it is chosen, and
    the one before is kept as a try.
    """

    kind: Literal["sound.add"] = "sound.add"
    id: Id = Field(default_factory=lambda: new_id("snd"))
    name: Name
    file: FileKey
    #: How long the file is: samples at 48 kHz.
    samples: int = Field(ge=1)
    lane: SoundLane | None = None
    line: Id | None = None
    on: Literal["stage", "cut"] | None = None
    first: FrameNumber | None = None
    #: Where it begins if `first` is left out: the playhead's frame of the stage, and of the cut.
    playhead: tuple[FrameNumber, FrameNumber] | None = None
    frames: int | None = Field(default=None, ge=1, le=MAX_FRAMES)
    #: In place of a length: the sample of the file after which nothing is heard in it.
    until: int | None = Field(default=None, ge=1)
    level: Level = ""
    slip: int = Field(default=0, ge=0)
    loop: bool = False
    gain_db: float = 0.0
    fade_in: int = Field(default=0, ge=0, le=MAX_FRAMES)
    fade_out: int = Field(default=0, ge=0, le=MAX_FRAMES)

    def apply(self, scene: Scene) -> Outcome:
        if len(scene.sounds) >= MOST:
            raise Refused(f"A scene holds {MOST:,} sounds at most.", "Delete some first.")
        if self.slip >= self.samples:
            raise BadInput(f"{self.name} has ended by then.", "Leave out less of its start.", field="slip")
        line: Line | None = find(scene, "lines", self.line) if self.line else None
        lane: SoundLane = self.lane or ("lines" if line else "effects")
        on = self.on or ("cut" if lane in ("bed", "music") else "stage")
        fps = parse_rate(scene.rate)
        whole = frames_for(self.samples - self.slip, fps)
        spoken = None if self.until is None else frames_for(max(self.until - self.slip, 1), fps)
        frames, tail = self.frames or min(spoken or whole, whole), ""
        if frames > whole and not self.loop:
            tail = f"; the file ends after {whole} f, the rest is silence"
        stage, cut = self.playhead or (scene.frames.first, 0)
        first = self.first if self.first is not None else stage if on == "stage" else cut
        before = next((one for one in scene.sounds if line is not None and one.line == line.id), None)
        tries = (*before.tries, _try_of(before)) if before else ()
        name = self.name
        if before:
            name = free_try(self.name, tries)
            tail += f"; {before.name} is kept as a try"
        sound = Sound(
            id=self.id, name=name, file=self.file, samples=self.samples, lane=lane, on=on, first=first,
            frames=frames, line=self.line, slip=self.slip, loop=self.loop, gain_db=self.gain_db, fade_in=self.fade_in,
            fade_out=self.fade_out, tries=tries, level=self.level,
        )  # fmt: skip
        _begins_on_its_ruler(scene, sound)
        kept = tuple(one for one in scene.sounds if one is not before)
        after = scene.having(sounds=(*kept, sound))
        where = f"of {line.name}" if line else f"at {first} of the {on}"
        if on == "stage" and stage_first(after, sound) + frames - 1 > scene.frames.last:
            tail += "; it ends after the stage does"
        return after, f"Laid the sound {name} {where}" + tail


def free_try(name: str, tries: Iterable[Try]) -> str:
    """A name for another try: the one that is asked for, with a number where it is taken."""
    taken = {one.name for one in tries}
    return next(free for n in count(1) if (free := name if n == 1 else f"{name[:74]} {n}") not in taken)


def _try_of(sound: Sound) -> Try:
    return Try(
        name=sound.name,
        file=sound.file,
        samples=sound.samples,
        slip=sound.slip,
        frames=sound.frames,
        level=sound.level,
    )


def _on_try(sound: Sound, at: int) -> Sound:
    """A sound with another of its tries chosen; the one chosen until now is kept in its place."""
    new, fields = sound.tries[at], ("name", "file", "samples", "slip", "frames", "level")
    tries = (*sound.tries[:at], _try_of(sound), *sound.tries[at + 1 :])
    fits = sound.fade_in + sound.fade_out <= new.frames
    fades = {} if fits else {"fade_in": 0, "fade_out": 0}
    return changed(sound, tries=tries, **fades, **{name: getattr(new, name) for name in fields})


def _place(sound: Sound, name: str) -> int:
    for i, one in enumerate(sound.tries):
        if one.name == name:
            return i
    raise NotFound(f"{sound.name} has no other try called {name}.", "Choose one that it has.", field="name")


class ChooseTry(Command):
    """Choose another try of a sound; the one that is chosen now is kept."""

    kind: Literal["sound.choose"] = "sound.choose"
    sound: Id
    name: Name

    def apply(self, scene: Scene) -> Outcome:
        sound: Sound = find(scene, "sounds", self.sound)
        new = _on_try(sound, _place(sound, self.name))
        return replace(scene, "sounds", new), f"Chose the try {self.name}"


class DropTry(Command):
    """Delete a try of a sound; of the one that is chosen, the latest of the others is chosen."""

    kind: Literal["sound.drop_try"] = "sound.drop_try"
    sound: Id
    name: Name

    def apply(self, scene: Scene) -> Outcome:
        sound: Sound = find(scene, "sounds", self.sound)
        said = ""
        if self.name == sound.name:
            if not sound.tries:
                raise Refused(
                    f"{sound.name} is the only try.", "Delete the sound, or record another.", field="name"
                )
            sound = _on_try(sound, len(sound.tries) - 1)
            said = f"; {sound.name} is chosen now"
        at = _place(sound, self.name)
        new = changed(sound, tries=(*sound.tries[:at], *sound.tries[at + 1 :]))
        return replace(scene, "sounds", new), f"Deleted the try {self.name}{said}"


def _begins_on_its_ruler(scene: Scene, sound: Sound) -> None:
    """Refuse a sound that begins before the stage does.

    Raises:
        Refused: it would.
    """
    if sound.on == "stage" and sound.line is None and sound.first < scene.frames.first:
        raise Refused(
            f"Frame {sound.first} is before the stage begins ({scene.frames.first}).",
            "Choose a later one.",
            field="first",
        )


class SetSound(Command):
    """Change where a sound lies, how much of its file is heard, its level or its fades."""

    kind: Literal["sound.set"] = "sound.set"
    sound: Id
    name: Name | None = None
    lane: SoundLane | None = None
    on: Literal["stage", "cut"] | None = None
    first: FrameNumber | None = None
    frames: int | None = Field(default=None, ge=1, le=MAX_FRAMES)
    slip: int | None = Field(default=None, ge=0)
    loop: bool | None = None
    gain_db: float | None = None
    fade_in: int | None = Field(default=None, ge=0, le=MAX_FRAMES)
    fade_out: int | None = Field(default=None, ge=0, le=MAX_FRAMES)

    def apply(self, scene: Scene) -> Outcome:
        sound: Sound = find(scene, "sounds", self.sound)
        names = [
            n for n in type(self).model_fields if n not in ("kind", "sound") and getattr(self, n) is not None
        ]
        if not names:
            raise BadInput("Nothing about the sound was named.", "Give its place, its length or its level.")
        if sound.line is not None and {"first", "on"} & set(names):
            line = next(one.line for one in timed(scene) if one.line.id == sound.line)
            raise Refused(f"{sound.name} is the sound of {line.name}.", "Move the line.", field="first")
        update: dict[str, Any] = {name: getattr(self, name) for name in names}
        new = changed(sound, **update)
        _begins_on_its_ruler(scene, new)
        words = [name.removesuffix("_db").replace("_", " ") for name in names]
        return replace(scene, "sounds", new), f"Changed the {' and '.join(words)} of the sound {sound.name}"


class TrimSound(Command):
    """Trim a sound at one end: what stays is heard where it was. Its beginning goes no further back than its file."""

    kind: Literal["sound.trim"] = "sound.trim"
    sound: Id
    end: Literal["first", "last"]
    #: Frames later.
    by: int = Field(ge=-MAX_FRAMES, le=MAX_FRAMES)

    def apply(self, scene: Scene) -> Outcome:
        sound: Sound = find(scene, "sounds", self.sound)
        fps = parse_rate(scene.rate)
        frames = sound.frames + (self.by if self.end == "last" else -self.by)
        if frames < max(1, sound.fade_in + sound.fade_out):
            raise Refused(
                f"{sound.name} would be shorter than {max(1, sound.fade_in + sound.fade_out)} f.",
                "Trim it less, or shorten its fades.",
                field="by",
            )
        if self.end == "last":
            new = changed(sound, frames=frames)
        else:
            if sound.line is not None:
                raise Refused(
                    f"{sound.name} begins with its line.", "Trim its end, or move the line.", field="end"
                )
            slip = sound.slip + sample_of(self.by, fps)
            first = sound.first + self.by
            least = scene.frames.first if sound.on == "stage" else 0
            if slip < 0 or first < least:
                room = min(sound.slip * fps.numerator // (RATE * fps.denominator), sound.first - least)
                raise Refused(
                    f"{sound.name} begins with its file.", f"Trim it at most {room} f earlier.", field="by"
                )
            if slip >= sound.samples:
                raise Refused(f"The file of {sound.name} has ended by then.", "Trim it less.", field="by")
            new = changed(sound, first=first, frames=frames, slip=slip)
        way = "later" if self.by > 0 else "earlier"
        edge = "beginning" if self.end == "first" else "end"
        return replace(
            scene, "sounds", new
        ), f"Trimmed the sound {sound.name}: its {edge} {abs(self.by)} f {way}"


class SlipSound(Command):
    """Slip a sound: it stays where it is, and what is heard in it comes so many frames later."""

    kind: Literal["sound.slip"] = "sound.slip"
    sound: Id
    by: int = Field(ge=-MAX_FRAMES, le=MAX_FRAMES)

    def apply(self, scene: Scene) -> Outcome:
        sound: Sound = find(scene, "sounds", self.sound)
        fps = parse_rate(scene.rate)
        slip = sound.slip - sample_of(self.by, fps)
        if not 0 <= slip < sound.samples:
            room = (
                frames_for(sound.slip + 1, fps) - 1
                if slip < 0
                else frames_for(sound.samples - sound.slip, fps) - 1
            )
            way = "later" if slip < 0 else "earlier"
            raise Refused(
                f"The file of {sound.name} has ended there.", f"Slip it at most {room} f {way}.", field="by"
            )
        way = "later" if self.by > 0 else "earlier"
        return replace(
            scene, "sounds", changed(sound, slip=slip)
        ), f"Slipped the sound {sound.name} {abs(self.by)} f {way}"
