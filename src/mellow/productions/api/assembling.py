"""A first assembly from the lines, worked out and shown; nothing is made."""

from dataclasses import asdict

from ninja import Router
from pydantic import BaseModel

from heron.assembling import Wishes
from heron.assembling.measures import measured
from heron.assembling.wishes import PROPOSED
from heron.bake import Bake
from heron.commands.assembling import AssembleCut, staying
from heron.cut import lay_out
from heron.model import Id, Model
from heron.scene import Scene, Shot
from heron.timebase import Frames
from mellow.actors import Request
from mellow.productions.api.opened import looked_at
from mellow.productions.api.shapes import REFUSALS

router = Router()


class AssembleIn(Model):
    """What is asked of an assembly, as `cut.assemble` has it."""

    wishes: Wishes = Wishes()
    frames: Frames | None = None
    cameras: tuple[Id, ...] | None = None
    keep: tuple[Id, ...] | None = None


class ChosenOut(BaseModel):
    """A shot of it; `stays`: it is there already, and stays as it is."""

    id: str
    name: str
    camera: str
    first: int
    last: int
    #: Its frames of the cut.
    cut_first: int
    cut_last: int
    why: str
    stays: bool


class MeasuresOut(BaseModel):
    """A cut in four numbers: seconds, a share, frames, and a size."""

    pace: float
    hearing: float
    lead: int | None
    size: str


class AssemblyOut(BaseModel):
    """An assembly that is proposed."""

    shots: list[ChosenOut]
    measures: MeasuresOut | None
    said: list[str]


class CutOut(BaseModel):
    """The cut as it is: its measures, the shots that stay if nothing else is said, and what is proposed unasked."""

    measures: MeasuresOut | None
    staying: list[str]
    proposed: list[Wishes]


@router.post("{int:scene_id}/assembly", response={200: AssemblyOut, **REFUSALS})
def assembly(request: Request, scene_id: int, payload: AssembleIn) -> AssemblyOut:
    """A first assembly from the lines."""
    scene = looked_at(request, scene_id)
    command = AssembleCut(
        id="cut", wishes=payload.wishes, frames=payload.frames, cameras=payload.cameras, keep=payload.keep
    )
    made, shots = command.worked_out(scene)
    placed = lay_out(scene.having(shots=shots))
    return AssemblyOut(
        shots=[
            ChosenOut(
                id=at.shot.id, name=at.shot.name, camera=one.camera.id, first=one.stage.first, last=one.stage.last,
                cut_first=at.cut_first, cut_last=at.cut_last, why=one.why, stays=one.kept is not None,
            )
            for one, at in zip(made.shots, placed, strict=True)
        ],
        measures=_measures(scene, shots),
        said=list(made.said),
    )  # fmt: skip


@router.get("{int:scene_id}/assembly", response={200: CutOut, **REFUSALS})
def cut_measured(request: Request, scene_id: int) -> CutOut:
    """The cut as it is, in the numbers that an assembly is asked by."""
    scene = looked_at(request, scene_id)
    return CutOut(
        measures=_measures(scene, scene.shots),
        staying=[shot.id for shot in staying(scene)],
        proposed=list(PROPOSED),
    )


def _measures(scene: Scene, shots: tuple[Shot, ...]) -> MeasuresOut | None:
    found = measured(Bake(scene), shots)
    return MeasuresOut(**asdict(found)) if found else None
