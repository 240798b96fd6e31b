"""All commands as one type, and running them."""

import json
from typing import Annotated, Any, Literal

from pydantic import Field, JsonValue, TypeAdapter, ValidationError

from heron.commands import (
    act_pasting,
    acting,
    acts,
    assembling,
    binding,
    bringing,
    cameras,
    cameras_in,
    composing,
    conforming,
    copies,
    courses,
    covering,
    crowds,
    cues,
    cutting,
    dressing,
    figures,
    flying,
    focusing,
    glass,
    going_round,
    holding,
    hung_pictures,
    jumping,
    kept_cuts,
    key_edits,
    keys,
    kit,
    lamps,
    lines,
    listening,
    matching,
    mends,
    movers,
    moves,
    moving_parts,
    noting,
    numbers,
    own_rigs,
    own_things,
    passes,
    pasting,
    perches,
    pieces,
    pointed,
    posing,
    rails,
    reacting,
    reference_movie,
    riding,
    rig_keys,
    rigs,
    scenes,
    shot_sizes,
    shots,
    sounds,
    starts,
    things,
    turntables,
    walking,
)
from heron.commands.base import Command, Outcome
from heron.commands.fitting import other_lenses
from heron.commands.thing_checks import things_said
from heron.errors import BadInput, BeyondLens, HeronError, Refused, from_validation
from heron.model import Id, changed
from heron.scene import Scene, find
from heron.scene.joins import parted
from heron.scene.lookup import validate_scene


class DressShot(Command):
    """Do something for one shot alone: where pieces stand, what is hidden, the light and the haze.

    The command is done on the scene as the shot has it. What a shot can have for itself is kept with it; all else that
    the command changes, changes in the scene.
    """

    kind: Literal["shot.dress"] = "shot.dress"
    shot: Id
    command: dict[str, JsonValue] = Field(max_length=200)

    def apply(self, scene: Scene) -> Outcome:
        (command,) = parse([self.command])
        if isinstance(command, DressShot):
            raise Refused("This is for a shot alone already.", "Give the command itself.", field="command")
        shot = find(scene, "shots", self.shot)
        return dressing.dress(scene, shot, lambda as_shot: run_one(as_shot, command))


class Together(Command):
    """Several commands that are one step: all or none, and one undo."""

    kind: Literal["together"] = "together"
    commands: list[dict[str, JsonValue]] = Field(min_length=1, max_length=100)
    #: What was done, in one sentence; left out, what each of them says.
    sentence: str = Field(default="", max_length=300)

    def parsed(self) -> "list[AnyCommand]":
        """What it is made of.

        Raises:
            BadInput: one is no command; Refused: one is itself made of several.
        """
        commands = parse(list(self.commands))
        for one in commands:
            inner = one.command.get("kind") if isinstance(one, DressShot) else one.kind
            if inner == "together":
                raise Refused(
                    "A step of several commands holds no other such step.", "Give its commands themselves."
                )
        return commands

    def apply(self, scene: Scene) -> Outcome:
        after, said = run(scene, self.parsed())
        return after, self.sentence or " ".join(said)

    def signed(self, by: str, when: str) -> "Together":
        """All of them."""
        whole = [one.signed(by, when).model_dump(mode="json", exclude_none=True) for one in self.parsed()]
        return changed(self, commands=whole)

    def reads(self) -> frozenset[str]:
        """What any of them does."""
        return frozenset[str]().union(*(one.reads() for one in self.parsed()))


AnyCommand = Annotated[
    scenes.SetScene
    | scenes.LockPart
    | scenes.HidePart
    | things.PutThing
    | things.MoveThings
    | copies.DuplicateThings
    | things.LockThings
    | things.HideThings
    | things.DeleteThings
    | keys.SetKeys
    | numbers.SetNumber
    | keys.KeyHere
    | keys.DeleteKeys
    | key_edits.MoveKeys
    | key_edits.ScaleKeys
    | key_edits.SpreadKeys
    | key_edits.StaggerKeys
    | key_edits.SimplifyKeys
    | key_edits.KeepWithin
    | key_edits.PutHandle
    | pasting.PasteKeys
    | moves.MoveCamera
    | composing.ComposeCamera
    | flying.FlyCamera
    | passes.RecordPass
    | passes.UsePass
    | passes.NamePass
    | perches.SavePerch
    | perches.SetPerch
    | holding.HoldCamera
    | sounds.AddSound
    | sounds.SetSound
    | sounds.TrimSound
    | sounds.SlipSound
    | sounds.ChooseTry
    | sounds.DropTry
    | lines.AddLine
    | lines.SetLine
    | lines.MoveLines
    | lines.CastVoice
    | lines.HoldWord
    | lines.BringLines
    | cues.AddCue
    | cues.SetCue
    | cues.ShiftFrames
    | jumping.JumpCamera
    | mends.MendHitch
    | matching.MatchZoom
    | mends.SwingKeys
    | jumping.WaitOffAir
    | keys.ShapeKeys
    | binding.BindKeys
    | binding.Hang
    | reacting.React
    | covering.TakeCoverage
    | assembling.AssembleCut
    | conforming.ConformCut
    | noting.PutAside
    | noting.BringBack
    | noting.SetThreshold
    | noting.SetStrictness
    | noting.SetActionLine
    | noting.DropActionLine
    | cameras.AddCamera
    | cameras.SetCamera
    | cameras.ShowCameras
    | rigs.AddLayer
    | rigs.SetLayer
    | pointed.PointRig
    | pointed.PointLayer
    | pointed.PointAct
    | acting.BeginAct
    | rigs.TakeLayer
    | rigs.OrderLayer
    | rails.DrawRail
    | rails.SmoothRail
    | rails.AddRailPoint
    | riding.Ride
    | rig_keys.RigToKeys
    | turntables.Turntable
    | rigs.CopyRig
    | starts.StartRig
    | shot_sizes.SizeShot
    | glass.MountLens
    | glass.SetGlass
    | focusing.SetFocus
    | focusing.KeyFocus
    | focusing.RackFocus
    | focusing.SetMark
    | focusing.DeleteMark
    | kit.AddLens
    | kit.SetLens
    | kit.TakeKit
    | cutting.EditCut
    | DressShot
    | Together
    | dressing.UndressShot
    | kept_cuts.KeepCut
    | kept_cuts.UseCut
    | kept_cuts.DropCut
    | shots.AddShot
    | shots.ListShots
    | shots.MoveShot
    | shots.SetShot
    | shots.DeleteShot
    | figures.AddFigure
    | figures.SetFigure
    | figures.WalkFigure
    | crowds.CrowdFigure
    | crowds.GroupFigures
    | acts.AddAct
    | acts.SetAct
    | acts.TrimAct
    | acts.MoveActs
    | acts.SplitAct
    | acts.CopyActs
    | act_pasting.PasteActs
    | posing.MovePose
    | posing.PutPose
    | posing.MirrorPose
    | acts.DeleteAct
    | listening.Listen
    | walking.PaceWalk
    | going_round.WalkRound
    | movers.AddMover
    | movers.SetMover
    | moving_parts.MakeMover
    | moving_parts.ReleaseMover
    | moving_parts.RideOnMover
    | moving_parts.HingeMover
    | moving_parts.LightMover
    | lamps.RimLamp
    | courses.CourseMover
    | bringing.BringSet
    | bringing.BringProp
    | bringing.BringMotion
    | bringing.BringCharacter
    | bringing.LeaveCharacter
    | cameras_in.BringCameras
    | bringing.RepicturePiece
    | hung_pictures.HangPicture
    | reference_movie.TakeReference
    | reference_movie.MoveReference
    | reference_movie.LeaveReference
    | own_things.BringThings
    | own_rigs.TakeRig
    | own_rigs.TakeLook
    | bringing.StandOn
    | bringing.NewVersion
    | pieces.AddPiece
    | pieces.DrawPiece
    | pieces.SetPiece
    | pieces.SizePiece
    | pieces.GroupPieces,
    Field(discriminator="kind"),
]
_ADAPTER: TypeAdapter[list[AnyCommand]] = TypeAdapter(list[AnyCommand])
MAX_COMMANDS = 10_000


def parse_commands(text: str) -> list[AnyCommand]:
    """Read a JSON list of commands (or one command).

    Raises:
        BadInput: not JSON, an unknown kind, or a value out of place.
    """
    try:
        data: Any = json.loads(text)
    except (ValueError, RecursionError):
        raise BadInput("This is not JSON.", 'Give a list of commands: [{"kind": "camera.set", …}].') from None
    data = [data] if isinstance(data, dict) else data
    if not isinstance(data, list) or len(data) > MAX_COMMANDS:
        raise BadInput(
            "Commands come as a JSON list.", f"Give at most {MAX_COMMANDS:,}, each an object with a kind."
        )
    return parse(data)


def parse(data: list[Any]) -> list[AnyCommand]:
    """Commands from plain content.

    Raises:
        BadInput: an unknown kind, or a value out of place.
    """
    try:
        return _ADAPTER.validate_python(data)
    except ValidationError as error:
        raise from_validation(error, "Command") from None


def run_one(scene: Scene, command: AnyCommand) -> tuple[Scene, str]:
    """Apply one command: the new scene, whole, and the sentence.

    Raises:
        HeronError: it cannot be done; nothing has changed.
    """
    if isinstance(command, Together):
        # Each of them has brought along what hangs on it, and is whole.
        return command.apply(scene)
    try:
        after, sentence = command.apply(scene)
    except ValidationError as error:
        raise from_validation(error, "This cannot be done") from None
    except BeyondLens as error:
        error.alternatives = other_lenses(scene, command, error)
        raise
    after, more = binding.brought_along(scene, after)
    if after.shots is not scene.shots:
        shots, cut = parted(scene.shots, after.shots)
        after, more = after.having(shots=shots), more + cut
    after = validate_scene(after)
    scenes.refuse_locked(scene, after)
    return after, sentence + more + things_said(scene, after)


def run(scene: Scene, commands: list[AnyCommand]) -> tuple[Scene, list[str]]:
    """Apply commands in turn, all or none.

    Raises:
        HeronError: naming the first that cannot be done.
    """
    sentences = []
    for number, command in enumerate(commands, 1):
        try:
            scene, sentence = run_one(scene, command)
        except HeronError as error:
            if len(commands) == 1:
                raise
            raise type(error)(
                f"Command {number} of {len(commands)} ({command.kind}): {error.reason}",
                error.remedy,
                field=error.field,
                alternatives=error.alternatives if number == len(commands) else (),
            ) from None
        sentences.append(sentence)
    return scene, sentences
