"""Takes as the API tells of them."""

from collections.abc import Sequence
from typing import Literal

from django.db.models import Count, F, OuterRef, Q, Subquery
from django.utils import timezone

from heron.dailies.asked import Render
from mellow.dailies import media
from mellow.dailies.api.shapes import FileOut, RemarkOut, TakeOut
from mellow.dailies.models import Remark, Take, TakeFrame

#: Of how many of the newest frames the pace is told.
_LAST = 16
#: What files are, by how their names end; the longer ending counts.
KINDS: dict[str, Literal["movie", "otio", "sound", "tone"]] = {
    ".mp4": "movie", ".otio": "otio", "_tone.wav": "tone", ".wav": "sound",
}  # fmt: skip
#: What is handed over as a zip of a folder.
FOLDERS: tuple[Literal["pictures", "sounds"], ...] = ("pictures", "sounds")


def take_summary(take: Take) -> TakeOut:
    """A take with how far it is."""
    return take_summaries([take])[0]


_NONE = {"all": 0, "done": 0, "reused": 0, "failed": 0}


def take_summaries(takes: Sequence[Take]) -> list[TakeOut]:
    """Takes with how far they are: a few queries for however many."""
    of = TakeFrame.State
    ids = [take.pk for take in takes]
    frames = TakeFrame.objects.filter(take__in=ids).order_by()
    counts: dict[int, dict[str, int]] = {
        row["take"]: {name: row[name] for name in _NONE}  # type: ignore[literal-required]
        for row in frames.values("take").annotate(
            all=Count("pk"),
            done=Count("pk", filter=Q(state=of.DONE)),
            reused=Count("pk", filter=Q(reused=True)),
            failed=Count("pk", filter=Q(state=of.FAILED)),
        )
    }
    done = TakeFrame.objects.filter(take=OuterRef("pk"), state=of.DONE)
    newest = dict(
        Take.objects.filter(pk__in=ids)
        .order_by()
        .annotate(key=Subquery(done.order_by(F("done_at").desc(nulls_last=True), "-place").values("key")[:1]))
        .values_list("pk", "key")
    )
    open_ = Remark.objects.filter(take__in=ids, ticked=False).order_by().values("take")
    remarks = {row["take"]: row["n"] for row in open_.annotate(n=Count("pk"))}
    return [
        _summary(take, counts.get(take.pk, _NONE), newest.get(take.pk) or "", remarks.get(take.pk, 0))
        for take in takes
    ]


def _summary(take: Take, count: dict[str, int], newest: str, remarks: int) -> TakeOut:
    render = Render.model_validate(take.render)
    shown = len(take.movie)
    return TakeOut(
        id=take.pk, scene=take.scene_id, frozen=take.frozen_id, scene_name=take.scene.name, number=take.number, revision=take.revision,
        author=take.author.username, at=take.at, note=take.note, state=take.state, reason=take.reason, render=render,
        wide=take.wide, high=take.high, rate=take.frozen.rate, frames=count["all"], shown=shown, done=count["done"],
        reused=count["reused"], failed=count["failed"], packed=take.packed,
        to_pack=(shown if render.movie else 0) + (count["all"] if render.pictures != "none" else 0),
        seconds_left=_left(take, count["all"] - count["done"] - count["failed"]),
        newest=newest, said=take.said, files=files_of(take), remarks=remarks,
    )  # fmt: skip


def _left(take: Take, frames: int) -> float | None:
    """Seconds that so many frames take at the pace of the last ones; None while nothing can be said."""
    if take.state != Take.State.DRAWING or frames == 0:
        return None
    newest = take.frames.filter(done_at__isnull=False).order_by("-done_at")[:_LAST]
    ends = [one.done_at for one in newest if one.done_at is not None]
    if len(ends) < 2:
        return None
    pace = (ends[0] - ends[-1]).total_seconds() / (len(ends) - 1)
    since = min((timezone.now() - ends[0]).total_seconds(), pace)
    return max(pace * frames - since, 0.0)


def files_of(take: Take) -> list[FileOut]:
    """What it hands over."""
    root = media.folder(take.pk)
    if take.state != Take.State.DONE or not root.exists():
        return []
    out = [
        FileOut(kind=kind, name=one.name, bytes=one.stat().st_size)
        for one in sorted(root.iterdir())
        if (kind := next((kind for end, kind in KINDS.items() if one.name.endswith(end)), None))
    ]
    for folder in FOLDERS:
        if (root / folder).exists():
            size = sum(one.stat().st_size for one in (root / folder).rglob("*") if one.is_file())
            out.append(FileOut(kind=folder, name=f"{folder}.zip", bytes=size))
    return out


def remark(row: Remark) -> RemarkOut:
    """A remark."""
    return RemarkOut(
        id=row.pk, frame=row.frame, text=row.text, author=row.author.username, at=row.at, ticked=row.ticked
    )
