"""A first assembly from the lines, worked out and shown; nothing is made."""

from dataclasses import asdict

from ninja import Router
from pydantic import BaseModel

from heron.assembling import Wishes
from heron.assembling.measures import measured
from heron.bake import Bake
from heron.commands.assembling import AssembleCut, staying
from heron.model import Id, Model
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
    why: str
    stays: bool


class MeasuresOut(BaseModel):
    """A cut in four numbers: seconds, a share, frames, and a size."""

    pace: float
    hearing: float
    lead: int | None
    size: str


class AssemblyOut(BaseModel):
    """An assembly that is proposed, and the cut as it is."""

    shots: list[ChosenOut]
    measures: MeasuresOut | None
    said: list[str]


class CutOut(BaseModel):
    """The cut as it is: its measures, and the shots that stay if nothing else is said."""

    measures: MeasuresOut | None
    staying: list[str]


@router.post("{int:scene_id}/assembly", response={200: AssemblyOut, **REFUSALS})
def assembly(request: Request, scene_id: int, payload: AssembleIn) -> AssemblyOut:
    """A first assembly from the lines."""
    scene = looked_at(request, scene_id)
    command = AssembleCut(
        id="cut", wishes=payload.wishes, frames=payload.frames, cameras=payload.cameras, keep=payload.keep
    )
    made, shots = command.worked_out(scene)
    numbers = measured(Bake(scene), shots)
    return AssemblyOut(
        shots=[
            ChosenOut(
                id=shot.id, name=shot.name, camera=one.camera.id, first=one.stage.first, last=one.stage.last, why=one.why,
                stays=one.kept is not None,
            )
            for one, shot in zip(made.shots, shots, strict=True)
        ],
        measures=MeasuresOut(**asdict(numbers)) if numbers else None,
        said=list(made.said),
    )  # fmt: skip


@router.get("{int:scene_id}/assembly", response={200: CutOut, **REFUSALS})
def cut_measured(request: Request, scene_id: int) -> CutOut:
    """The cut as it is, in the numbers that an assembly is asked by."""
    scene = looked_at(request, scene_id)
    numbers = measured(Bake(scene), scene.shots)
    return CutOut(
        measures=MeasuresOut(**asdict(numbers)) if numbers else None,
        staying=[shot.id for shot in staying(scene)],
    )
