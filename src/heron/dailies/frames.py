"""The frames of a render: which they are, what each is called and says, and what its picture depends on."""

from collections.abc import Iterator
from dataclasses import dataclass

from heron.bake import Bake
from heron.cut import Clocks
from heron.dailies.asked import Render, check, size
from heron.dailies.depends import Depends
from heron.dailies.mixing import Mixed, mixes, print_of
from heron.dailies.names import folders, picture
from heron.dailies.slate import slate
from heron.errors import BadInput, Refused
from heron.scene import Camera, Scene, find, find_named
from heron.timebase import Frames


@dataclass(frozen=True)
class DrawnFrame:
    """One frame that is drawn.

    Attributes:
        cut: counted from 0; None of a spare frame, or outside the cut.
        shot: its name; empty outside the cut.
        shutter: the stage frames between which it is open.
        name: the path of its file below the render's folder, without the kind; empty where only the movie shows it.
        fingerprint: of all that the picture depends on: the same one, the same picture.
        mixed: what its picture is added up from, where it fades or dissolves.
    """

    cut: int | None
    shot: str
    camera: str
    stage: int
    shutter: tuple[float, float]
    name: str
    fingerprint: str
    mixed: Mixed | None = None


@dataclass(frozen=True)
class Plan:
    """A render, frame by frame.

    Attributes:
        camera_ids: of each frame, the camera's.
        slates: of each frame, what is written on it.
        movie: for each frame of the movie the place of the one it shows; None is black.
        said: what was done otherwise than asked, in sentences.
    """

    frames: list[DrawnFrame]
    camera_ids: list[str]
    slates: list[str]
    movie: list[int | None]
    wide: int
    high: int
    said: list[str]


@dataclass(frozen=True)
class _Stretch:
    """A camera over some frames of the stage, in one folder; of a shot its place in the cut."""

    camera: Camera
    stage: Frames
    drawn: Frames
    folder: str
    shot: int | None


def frames_of_cut(scene: Scene, only: str | None = None) -> list[DrawnFrame]:
    """Every frame of the cut that shows something, or of one shot of it; gaps are black and drawn by nobody.

    Raises:
        Refused: there is no cut.
        NotFound: there is no such shot.
    """
    shots = () if only is None else (find_named(scene, "shots", only).id,) if scene.shots else ()
    return plan(scene, Render(of="cut" if only is None else "shots", shots=shots)).frames


def plan(scene: Scene, render: Render) -> Plan:
    """What a render draws.

    Raises:
        Refused: there is nothing to draw, or the render would be empty.
        NotFound: there is no such shot or camera.
        BadInput: a range outside the scene.
    """
    check(render)
    wide, high, rounded = size(render, scene.delivery.aspect)
    clocks, depends, bake = Clocks(scene), Depends(scene), Bake(scene)
    out = Plan([], [], [], [], wide, high, [rounded] if rounded else [])
    mixed = {} if render.of == "camera" else mixes(clocks)
    fewer = 0
    for stretch in _stretches(scene, render, clocks):
        fewer += stretch.stage.count + 2 * render.spare - stretch.drawn.count
        at = 0 if stretch.shot is None else clocks.placed[stretch.shot].cut_first
        as_shot = depends.of_shot(None if stretch.shot is None else clocks.placed[stretch.shot].shot)
        if render.of == "cut" and stretch.shot is not None:
            out.movie.extend([None] * (at - len(out.movie)))
        for stage in stretch.drawn.each():
            shown = stage in stretch.stage
            cut = at + stage - stretch.stage.first if shown and stretch.shot is not None else None
            if shown:
                out.movie.append(len(out.frames))
            shutter, print_ = as_shot.on(stretch.camera, stage)
            mix = None if cut is None else mixed.get(cut)
            out.frames.append(
                DrawnFrame(
                    cut=cut,
                    shot="" if stretch.shot is None else clocks.placed[stretch.shot].shot.name,
                    camera=stretch.camera.letter,
                    stage=stage,
                    shutter=shutter,
                    name=picture(scene, stretch.folder, stage),
                    fingerprint=print_ if mix is None else print_of(mix, depends),
                    mixed=mix,
                )
            )
            out.camera_ids.append(stretch.camera.id)
            out.slates.append(
                slate(scene, bake, stretch.camera, stage, clocks, stretch.shot, said=render.said)
            )
    if render.of == "cut":
        # A slate at the end is shown too.
        out.movie.extend([None] * (clocks.length - len(out.movie)))
        _under_slates(out, scene, clocks, depends, mixed)
    slates = sum(p.shot.camera is None for p in clocks.placed) if render.of == "cut" else 0
    if slates:
        out.said.append(
            f"{slates} shot{' has' if slates == 1 else 's have'} no camera yet: the movie shows {'its board, or its slate' if slates == 1 else 'their boards, or slates'}."
        )
    if fewer:
        out.said.append(f"The stage ends before {_frames(fewer)} of the spare ones; those are left out.")
    return out


def _under_slates(out: Plan, scene: Scene, clocks: Clocks, depends: Depends, mixed: dict[int, Mixed]) -> None:
    """Frames of slates that dissolve from or into a camera: what the camera shows there is drawn for the movie."""
    for cut, mix in mixed.items():
        if out.movie[cut] is not None or not mix.parts:
            continue
        part = mix.parts[0]
        camera: Camera = find(scene, "cameras", part.camera)
        slate_of = clocks.placed[int(clocks.cut_table[0][cut])].shot.name
        shutter, _ = depends.of_shot(None).on(camera, part.stage)
        out.movie[cut] = len(out.frames)
        out.frames.append(
            DrawnFrame(cut, slate_of, camera.letter, part.stage, shutter, "", print_of(mix, depends), mix)
        )
        out.camera_ids.append(camera.id)
        out.slates.append("")


def movie_begins(render: Render, made: Plan) -> int | None:
    """The frame of the cut that a movie's timecode begins with, counted from 0; None outside the cut."""
    if render.of == "cut":
        return 0
    return next((frame.cut for frame in made.frames if frame.cut is not None), None)


def _stretches(scene: Scene, render: Render, clocks: Clocks) -> Iterator[_Stretch]:
    def around(stage: Frames) -> Frames:
        first, last = stage.first - render.spare, stage.last + render.spare
        return Frames(first=max(first, scene.frames.first), last=min(last, scene.frames.last))

    if render.of == "camera":
        camera: Camera = find(scene, "cameras", str(render.camera))
        stage = render.frames or scene.frames
        if stage.first not in scene.frames or stage.last not in scene.frames:
            raise BadInput(
                f"Frames {stage} are not all on the stage.", f"It has {scene.frames}.", field="frames"
            )
        yield _Stretch(camera, stage, around(stage), f"camera-{camera.letter}", None)
        return
    if not scene.shots:
        raise Refused(
            "There are no shots in the cut yet.", "Put a camera on the assembly first.", field="shot"
        )
    wanted = {find(scene, "shots", shot).id for shot in render.shots}
    if render.of == "shots" and not wanted:
        raise Refused("No shot is chosen.", "Choose one or more, or the whole cut.", field="shots")
    places = folders([shot.name for shot in scene.shots])
    for i, placed in enumerate(clocks.placed):
        if render.of == "cut" or placed.shot.id in wanted:
            if placed.shot.camera is None:
                continue
            camera = find(scene, "cameras", placed.shot.camera)
            yield _Stretch(camera, placed.shot.stage, around(placed.shot.stage), places[i], i)


def _frames(count: int) -> str:
    return f"{count} frame{'' if count == 1 else 's'}"
