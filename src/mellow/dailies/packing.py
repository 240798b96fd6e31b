"""A take made ready to hand over: pictures in folders, a movie, a timeline that points at them, and a manifest.

All of it is made in a folder of another name, which is given its own at the end: a worker killed in the middle leaves
nothing that looks done, and the next one begins again.
"""

import shutil
import uuid
from collections.abc import Callable, Iterator
from pathlib import Path

from django.conf import settings
from django.db.models import Q
from django.utils import timezone
from PIL import Image

from heron.cut import Clocks
from heron.dailies.asked import Render
from heron.dailies.frames import Plan, movie_begins
from heron.dailies.manifest import manifest
from heron.dailies.mixing import Mixed, mixes
from heron.dailies.names import plain
from heron.errors import HeronError, Refused
from heron.formats.otio import media_of, write_otio
from heron.formats.otio_sound import FOLDER
from heron.scene import Scene, Shot, find
from heron.sound.handed import with_tone
from heron.sound.mix import mix, write_wav
from heron.sound.stand_in import all_sounds
from heron.timebase import parse_rate
from mellow.dailies import desk, media, slates, work, written
from mellow.dailies.models import Take
from mellow.dailies.movie import write_movie
from mellow.pictures import is_sound
from mellow.productions import rows, sounds

#: After so many pictures it says that it is still working.
_HEARD = 12


class Stopped(Exception):
    """It was cancelled, or somebody else packs it."""


def pack_take(take_id: int) -> None:
    """Pack a take, unless it is packed already or another worker is packing it."""
    take = Take.objects.filter(pk=take_id).first()
    now = timezone.now()
    free = Q(until=None) | Q(until__lt=now)
    mine = Take.objects.filter(free, pk=take_id, state=Take.State.PACKING).update(
        until=work.lease_expiry(), packer=desk.worker_name()
    )
    if take and mine:
        _pack(take)


def _pack(take: Take) -> None:
    media.drop_unfinished(take.pk)
    making = media.folder(take.pk).with_name(f".making-{take.pk}-{uuid.uuid4().hex[:8]}")
    try:
        with media.writing("The render"):
            making.mkdir(parents=True)
            _make(take, making)
            _heard(take, take.packed)
            media.drop(take.pk)
            making.replace(media.folder(take.pk))
        if not Take.objects.filter(pk=take.pk).exists():
            # Its scene was deleted while the last of it was written.
            media.drop(take.pk)
        _end(take, Take.State.DONE, "")
    except Stopped:
        pass
    except _Gone as gone:
        # Somebody cleared a picture meanwhile: it is drawn once more.
        take.frames.filter(place=gone.place).update(state=work.Of.WAITING, reused=False)
        Take.objects.filter(pk=take.pk).update(state=Take.State.DRAWING, until=None)
        take.refresh_from_db()
        work.enqueue(take)
    except HeronError as error:
        _end(take, Take.State.FAILED, str(error))
    finally:
        shutil.rmtree(making, ignore_errors=True)
    shown, wanted = work.shown_keys(), work.wanted_keys()
    media.trim(int(settings.MEDIA_GB * work.GB), wanted, shown)


class _Gone(Exception):
    def __init__(self, place: int) -> None:
        self.place = place


def _make(take: Take, making: Path) -> None:
    scene, render = rows.load(take.frozen), Render.model_validate(take.render)
    plan, _ = work.planned(scene, render)
    stem = stem_of(scene, take)
    keys = dict(take.frames.values_list("place", "key"))
    kind = "jpg" if render.pictures == "jpeg" else "png"
    pack = _Packing(take, scene, render, plan, keys)
    if render.pictures != "none":
        for i, frame in enumerate(plan.frames):
            if not frame.name:
                continue
            path = making / "pictures" / f"{frame.name}.{kind}"
            path.parent.mkdir(parents=True, exist_ok=True)
            pack.save(i, path)
        if render.leader:
            for path, image in pack.leaders(making / "pictures", kind):
                pack.put(image, path)
        (making / "pictures" / "manifest.json").write_text(manifest(scene, render, plan, take.number, kind))
    if render.movie:
        start = movie_begins(render, plan)
        size = written.size_written(render, plan.wide, plan.high)
        heard = None
        if render.of == "cut" and all_sounds(scene):
            heard = making / f"{stem}.wav"
            write_wav(heard, mix(scene, sounds.part))
            if render.leader:
                write_wav(making / f"{stem}_tone.wav", with_tone(mix(scene, sounds.part)))
        write_movie(
            making / f"{stem}.mp4", pack.shown(), *size, parse_rate(scene.rate), render.movie_factor,
            None if start is None else Clocks(scene).timecode(start), heard,
        )  # fmt: skip
    if render.of != "camera":
        (making / f"{stem}.otio").write_text(write_otio(scene, media_of(render, plan, f"{stem}.mp4", kind)))
        for name, content in sounds.handed(scene):
            (making / FOLDER).mkdir(exist_ok=True)
            (making / FOLDER / name).write_bytes(content)


def stem_of(scene: Scene, take: Take) -> str:
    """What a take's files are called: `Slack_Tide_take_003`."""
    return f"{plain(scene.name)}_take_{take.number:03d}"


class _Packing:
    """The pictures of a take with what is written on them."""

    def __init__(self, take: Take, scene: Scene, render: Render, plan: Plan, keys: dict[int, str]) -> None:
        self.take, self.scene, self.render, self.plan, self.keys = take, scene, render, plan, keys
        self.count = 0
        self.clocks = Clocks(scene)
        self._mixes = mixes(self.clocks) if render.of == "cut" else {}
        self._slates: dict[str, Image.Image] = {}

    def image(self, place: int) -> Image.Image:
        """A frame as it is handed over."""
        self._check(place)
        with Image.open(media.picture(self.keys[place])) as found:
            found.load()
            shown = self._with_slates(found.convert("RGB"), self.plan.frames[place].mixed)
            return written.write_on(shown, self.render, self.plan.slates[place], self.scene.delivery.aspect)

    def _check(self, place: int) -> None:
        """A picture that is gone or bad is drawn once more."""
        key = self.keys[place]
        if not is_sound(media.picture(key)):
            media.spoil(key)
            raise _Gone(place)

    def save(self, place: int, path: Path) -> None:
        """Put a frame at a path; one that nothing is written on is the kept picture to the byte."""
        self._step()
        mixed = self.plan.frames[place].mixed
        plain_ = not (self.render.slate or self.render.lines or (mixed and mixed.slates))
        if self.render.pictures == "png" and plain_:
            self._check(place)
            shutil.copyfile(media.picture(self.keys[place]), path)
            return
        self.put(self.image(place), path)

    def put(self, image: Image.Image, path: Path) -> None:
        """Write a picture in the render's kind and compression."""
        if path.suffix == ".jpg":
            image.save(path, "JPEG", quality=self.render.jpeg, subsampling=0)
        else:
            image.save(path, "PNG", compress_level=3)

    def leaders(self, root: Path, kind: str) -> Iterator[tuple[Path, Image.Image]]:
        """Before each shot's first picture, one that says what follows."""
        seen: set[str] = set()
        for frame in self.plan.frames:
            folder, _, name = frame.name.partition("/")
            if folder in seen or not name:
                continue
            seen.add(folder)
            frames = [f for f in self.plan.frames if f.name.startswith(f"{folder}/")]
            told = [
                frame.shot or f"Camera {frame.camera}",
                f"{self.scene.name} · take {self.take.number} · camera {frame.camera}",
                f"stage {frames[0].stage} to {frames[-1].stage} · {len(frames)} frames · spare {self.render.spare}",
            ]
            number = f"{frame.stage - 1:04d}" if frame.stage else "leader"
            path = root / folder / f"{name.rsplit('.', 1)[0]}.{number}.{kind}"
            yield path, written.leader(self.render, self.plan.wide, self.plan.high, told)

    def shown(self) -> Iterator[bytes]:
        """The movie's frames, each as RGB bytes; gaps are black."""
        for at in range(len(self.plan.movie)):
            self._step()
            yield self.movie_frame(at).tobytes()

    def movie_frame(self, at: int) -> Image.Image:
        """A frame of the movie: what was drawn; of a slate its board, or what it says; else black."""
        place = self.plan.movie[at]
        if place is not None:
            return self.image(place)
        shot = self._slate(at) if self.render.of == "cut" else None
        black = Image.new("RGB", (self.plan.wide, self.plan.high))
        if shot is None:
            return Image.new("RGB", written.size_written(self.render, *black.size))
        if (mixed := self._mixes.get(at)) is None:
            shown = self._slate_of(shot.id)
        else:
            shown = slates.added(
                black, [(self._slate_of(s.shot), s.weight) for s in mixed.slates], mixed.light
            )
        return written.write_on(shown, self.render, "", self.scene.delivery.aspect)

    def _with_slates(self, picture: Image.Image, mixed: Mixed | None) -> Image.Image:
        """A drawn picture with the slates that it dissolves from or into."""
        if mixed is None or not mixed.slates:
            return picture
        return slates.added(picture, [(self._slate_of(one.shot), one.weight) for one in mixed.slates])

    def _slate_of(self, shot: str) -> Image.Image:
        if shot not in self._slates:
            one: Shot = find(self.scene, "shots", shot)
            self._slates[shot] = slates.picture_of(one, self.plan.wide, self.plan.high)
        return self._slates[shot]

    def _slate(self, cut: int) -> Shot | None:
        shot = int(self.clocks.cut_table[0][cut])
        return None if shot < 0 or self.clocks.placed[shot].shot.camera else self.clocks.placed[shot].shot

    def _step(self) -> None:
        self.count += 1
        if self.count % _HEARD == 0:
            _heard(self.take, self.count)


def _heard(take: Take, count: int) -> None:
    if not Take.objects.filter(pk=take.pk, state=Take.State.PACKING).update(
        until=work.lease_expiry(), packed=count
    ):
        raise Stopped
    take.packed = count


def _end(take: Take, state: str, reason: str) -> None:
    Take.objects.filter(pk=take.pk, state=Take.State.PACKING).update(
        state=state, reason=reason, until=None, ended=timezone.now()
    )
    work.ended.send(Take, take=take)


def cut_pictures(take: Take) -> Callable[[int], Image.Image]:
    """The pictures of a take of a whole cut, as its movie has them: by the frame of the cut.

    Raises:
        Refused: by what is returned, where a picture is no longer there.
    """
    scene, render = rows.load(take.frozen), Render.model_validate(take.render)
    plan, _ = work.planned(scene, render)
    keys = dict(take.frames.values_list("place", "key"))
    pack = _Packing(take, scene, render, plan, keys)

    def shown(cut: int) -> Image.Image:
        try:
            return pack.movie_frame(cut)
        except _Gone:
            raise Refused(
                f"A picture of {scene.name} was cleared meanwhile.",
                "Render the film again: only that is drawn.",
            ) from None

    return shown
