"""Everything that can be handed over: each a file, or a folder of them, for somebody down the line."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Literal, get_args

from heron.dailies.shot_list import as_csv, shot_list
from heron.errors import NotFound
from heron.formats.bvh import write_bvh
from heron.formats.camera_data import write_camera_csv, write_camera_json
from heron.formats.dialogue import scene_fountain, scene_vtt
from heron.formats.edl import write_edl
from heron.formats.gltf import write_stage
from heron.formats.otio import write_otio
from heron.formats.otio_sound import FOLDER
from heron.formats.span import Span
from heron.scene import Scene, write_scene
from heron.sound.stand_in import all_sounds
from heron.stage.figure import Figure

Recipient = Literal["edit", "animation", "everybody"]
RECIPIENTS: tuple[Recipient, ...] = get_args(Recipient)
#: What a part is of: the whole scene, the stage (of a scene or of a shot), or a figure on it.
Of = Literal["scene", "stage", "figure"]


#: The files of a folder, each with its name; one after the other, since they may be many and large.
Files = Iterator[tuple[str, bytes]]


def _nothing(scene: Scene) -> Files:
    return iter(())


def _no_pictures(scene: Scene) -> dict[str, bytes]:
    return {}


def _no_package() -> bytes:
    raise NotFound("Nothing is known of the files of this scene.", "Hand it over from where they are kept.")


@dataclass(frozen=True)
class Source:
    """What parts are written from.

    Attributes:
        revision: of the scene, where that is known.
        sounds, boards: files of the cut by their names.
        movie: a movie of the cut, where there is one; frames: a folder of its frames.
        pictures: JPEG or PNG by shots' ids.
        set_at: where the file of the set lies, as seen from the one that is written; None, it is in that.
        package: the scene with all its files.
    """

    span: Span
    revision: int | None = None
    figure: Figure | None = None
    sounds: Callable[[Scene], Files] = _nothing
    boards: Callable[[Scene], Files] = _nothing
    pictures: Callable[[Scene], dict[str, bytes]] = _no_pictures
    movie: Path | None = None
    frames: Path | None = None
    package: Callable[[], bytes] = _no_package
    set_at: str | None = None

    @property
    def scene(self) -> Scene:
        """The scene it is of."""
        return self.span.bake.scene


def _always(source: Source) -> None:
    return None


@dataclass(frozen=True)
class Part:
    """One thing that is handed over.

    Attributes:
        name: by which it is asked for; ending: of its file, or none of a folder.
        recipients: for whom it is meant.
        write: its content, or the files of a folder by name.
    """

    name: str
    label: str
    note: str
    ending: str
    kind: str
    recipients: tuple[Recipient, ...]
    write: Callable[[Source], bytes | Files]
    of: Of = "scene"
    #: It is handed over unless somebody says otherwise.
    usual: bool = True
    #: Why it cannot be handed over, where it cannot.
    lacks: Callable[[Source], NotFound | None] = _always
    #: Named so besides what the pattern says, where several of one ending are handed over.
    tail: str = ""


def _usd(ending: str) -> Callable[[Source], bytes]:
    def write(source: Source) -> bytes:
        # Its library takes seconds to load; a desk begins without it.
        from heron.formats.usd import write_usd

        return write_usd(source.span, ending, source.set_at)

    return write


def _set(source: Source) -> bytes:
    from heron.formats.usd import write_set

    return write_set(source.span)


def _frames(source: Source) -> Files:
    if source.frames is None:
        return
    for path in sorted(source.frames.rglob("*")):
        if path.is_file():
            yield path.relative_to(source.frames).as_posix(), path.read_bytes()


def _sheet(source: Source) -> bytes:
    # Its library takes a while to load; a desk begins without it.
    from heron.formats.contact_sheet import write_contact_sheet

    return write_contact_sheet(source.scene, source.pictures(source.scene))


def _movie(source: Source) -> bytes:
    return source.movie.read_bytes() if source.movie is not None else b""


def _without(
    there: Callable[[Source], object], reason: str, remedy: str
) -> Callable[[Source], NotFound | None]:
    """Why something cannot be handed over, where it is not there."""
    return lambda source: None if there(source) else NotFound(reason, remedy)


_NO_SOUND = _without(
    lambda s: all_sounds(s.scene), "There is no sound in the cut.", "Bring in a sound, or write lines."
)
_NO_BOARD = _without(
    lambda s: any(shot.board for shot in s.scene.shots), "No shot has a board.", "Drop a picture on a shot."
)
_NO_MOVIE = _without(
    lambda s: s.movie is not None, "There is no movie of this cut.", "Render the cut as a movie first."
)
_NO_FRAMES = _without(
    lambda s: s.frames is not None, "There are no frames of this cut.", "Render the cut as pictures first."
)
_NO_LINES = _without(
    lambda s: s.scene.lines, "This scene has no lines.", "Write lines, or bring in a screenplay."
)
_NO_SHOTS = _without(lambda s: s.scene.shots, "There are no shots.", "Add a shot first.")
_NO_SET = _without(lambda s: s.scene.pieces, "There are no set pieces.", "Put one up first.")
_NO_FIGURE = _without(lambda s: s.scene.figures, "There are no figures.", "Put a figure on the stage first.")


def _bvh(source: Source) -> bytes:
    if source.figure is None:
        raise NotFound("No figure was named.", "Choose a figure.", field="figure")
    return write_bvh(source.span.bake, source.figure)


_JSON, _TEXT = "application/json", "text/plain; charset=utf-8"
ALL: tuple[Part, ...] = (
    Part("otio", "Timeline, .otio", "OpenTimelineIO: shots, cameras, lenses, gaps; what comes back is matched by it", ".otio", _JSON, ("edit",), lambda s: write_otio(s.scene, revision=s.revision or 0).encode(), lacks=_NO_SHOTS),
    Part("edl", "Edit list, .edl", "CMX 3600; source timecode is the stage frame", ".edl", _TEXT, ("edit",), lambda s: write_edl(s.scene).encode(), lacks=_NO_SHOTS),
    Part("movie", "Movie, .mp4", "That of the last finished render of the cut", ".mp4", "video/mp4", ("edit", "everybody"), _movie, lacks=_NO_MOVIE),
    Part("sounds", "Sounds, .flac", "What the timeline names, stand-in voices too", "", "application/zip", ("edit",), lambda s: s.sounds(s.scene), lacks=_NO_SOUND, tail=FOLDER),
    Part("boards", "Boards, .jpg", "The pictures on the shots", "", "application/zip", ("edit", "everybody"), lambda s: s.boards(s.scene), lacks=_NO_BOARD, tail="boards"),
    Part("usd", "Stage, .usdc", "USD: set, skeletons with their motion, cameras with lens and focus", ".usdc", "application/octet-stream", ("animation",), _usd(".usdc"), "stage"),
    Part("usda", "Stage as text, .usda", "The same to read and to compare", ".usda", _TEXT, (), _usd(".usda"), "stage"),
    Part("usdz", "Stage as a package, .usdz", "The same in one file", ".usdz", "model/vnd.usdz+zip", ("animation",), _usd(".usdz"), "stage", usual=False),
    Part("set", "Set, .usdc", "What stands still, by itself", ".usdc", "application/octet-stream", (), _set, tail="set", lacks=_NO_SET),
    Part("glb", "Stage, .glb", "glTF: set, moving figures and cameras", ".glb", "model/gltf-binary", ("animation",), lambda s: write_stage(s.span), "stage"),
    Part("csv", "Camera data, .csv", "Place, turn, lens, stop and focus for each frame", ".csv", "text/csv; charset=utf-8", ("animation",), lambda s: write_camera_csv(s.span).encode(), "stage", tail="cameras"),
    Part("cameras", "Camera data, .json", "The same for scripts", ".json", _JSON, ("animation",), lambda s: write_camera_json(s.span).encode(), "stage", usual=False, tail="cameras"),
    Part("bvh", "Figures, .bvh", "A file for each: hips as root, a T pose at rest", ".bvh", _TEXT, ("animation",), _bvh, "figure", lacks=_NO_FIGURE),
    Part("shots", "Shot list, .csv", "Camera, lens, ranges, length, the move in words", ".csv", "text/csv; charset=utf-8", ("edit", "everybody"), lambda s: as_csv(shot_list(s.scene, notes=True)).encode(), lacks=_NO_SHOTS, tail="shots"),
    Part("pdf", "Shot list with pictures, .pdf", "Six shots a page, with pictures of the last render of the cut", ".pdf", "application/pdf", ("everybody",), _sheet, lacks=_NO_SHOTS, tail="shots"),
    Part("frames", "Frames, .png or .jpg", "Those of the last finished render of the cut", "", "application/zip", ("everybody",), _frames, usual=False, lacks=_NO_FRAMES, tail="frames"),
    Part("vtt", "Lines, .vtt", "Subtitles: who says what, and when", ".vtt", "text/vtt; charset=utf-8", ("edit", "everybody"), lambda s: scene_vtt(s.scene).encode(), lacks=_NO_LINES),
    Part("fountain", "Lines, .fountain", "A screenplay as plain text", ".fountain", _TEXT, ("everybody",), lambda s: scene_fountain(s.scene).encode(), lacks=_NO_LINES),
    Part("json", "Document, .json", "The scene itself, without its files", ".json", _JSON, (), lambda s: write_scene(s.scene).encode()),
    Part("package", "Whole scene, .zip", "With all its files, for another machine", ".zip", "application/zip", ("everybody",), lambda s: s.package(), usual=False),
)  # fmt: skip
#: Those that can refer to a set that is a file of its own.
REFER = ("usd", "usda")
BY_NAME = {part.name: part for part in ALL}


def content_of(part: Part, source: Source) -> bytes | Files:
    """What a part is, or the files of it with their names.

    Raises:
        NotFound: it is not there, and what to do about it.
    """
    missing = part.lacks(source)
    if missing is not None:
        raise missing
    return part.write(source)
