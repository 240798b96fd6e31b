"""Reads one file from elsewhere in a process of its own, so that a bad one ends that process and nothing else.

Takes a job as JSON on standard input and tells how far it is, and what it found, as lines of JSON.
"""

import hashlib
import json
import os
import resource
import sys
from pathlib import Path
from typing import Any

from heron.errors import BadInput, HeronError
from heron.formats.bringing.cameras_in import tracks_of
from heron.formats.bringing.found import METRES, Along, Found
from heron.formats.bringing.kept import keep_character, keep_model, keep_motion
from heron.formats.bringing.limits import APART, MEMORY, seconds_for
from heron.formats.bringing.motion import skeleton_of
from heron.formats.bringing.movie_in import keep_movie
from heron.formats.bringing.names import alike
from heron.formats.bringing.recognise import MODELS, form_of, kind_of, measured, read_found, rigid_kind
from heron.timebase import parse_rate


def read(job: dict[str, Any]) -> dict[str, Any]:
    """What a file holds, and the model of it where there is one, written to `out`.

    Args:
        job: known (joints that were corrected, by `alike`), path, name, along (paths by name), unit, up, lighter, rigid (no character is meant), cameras (they alone are), rate (a scene's), out; of motion: motion, clip, map.

    Raises:
        BadInput: it cannot be read.
    """
    content, name = Path(job["path"]).read_bytes(), job["name"]
    form = form_of(content, name)
    if form == "movie":
        return _movie(job)
    if form not in (*MODELS, "bvh", "picture"):
        return {"kind": form}

    def along(named: str) -> bytes | None:
        # A file brought along has no folder here.
        there = job.get("along", {}).get(named) or job.get("along", {}).get(named.rsplit("/", 1)[-1])
        return Path(there).read_bytes() if there else None

    tell(0.05)
    if form == "bvh" or job.get("motion"):
        return _motion(job, content, along)
    found = read_found(content, name, along)
    tell(0.4)
    kind = kind_of(found)
    if job.get("cameras"):
        return _cameras(job, found)
    if kind == "motion":
        return _motion(job, content, along)
    out: dict[str, Any] = {
        "kind": kind, "triangles": found.triangles, "clips": [{"name": one.name, "frames": len(one.seconds)} for one in found.clips],
        "cameras": [one.name for one in found.eyes], "unit": None, "up": job.get("up") or found.up or "y", "told": True,
        "height_m": 0.0, "size_m": [0.0, 0.0, 0.0], "hints": [], "parts": [], "key": None,
    }  # fmt: skip
    if kind == "character" and not job.get("rigid"):
        try:
            return _character(job, found, out)
        except BadInput as error:
            if error.field in ("map", "lighter", "unit"):
                raise
            # A skin that is not a person's is still something to look at.
            out["hints"].append(f"It is not a character: {error.reason[:1].lower()}{error.reason[1:]}")
    if kind == "character":
        out["kind"] = rigid_kind(found)
    if found.shapes:
        measure = measured(found, job.get("unit"), job.get("up"))
        out.update(
            unit=measure.unit,
            told=measure.told,
            height_m=measure.height_m,
            size_m=list(measure.size_m),
            hints=[*out["hints"], *measure.hints],
        )
        assert measure.unit in METRES
        kept = keep_model(
            found,
            name,
            measure.unit if not measure.told or job.get("unit") else None,
            job.get("up"),
            bool(job.get("lighter")),
            lambda share: tell(0.4 + 0.5 * share),
        )
        Path(job["out"]).write_bytes(kept.content)
        out.update(key=kept.key, parts=[one.model_dump() for one in kept.parts])
    elif not found.eyes:
        raise BadInput(
            f"{name} holds nothing that can be seen.", "Give a file with meshes, motion or cameras."
        )
    else:
        return _cameras(job, found)
    out["left_out"] = found.said
    return out


def _character(job: dict[str, Any], found: Found, out: dict[str, Any]) -> dict[str, Any]:
    """A skinned file as a character, written to `out`."""
    measure = measured(found, job.get("unit"))
    unit = measure.unit if not measure.told or job.get("unit") else None
    asked = job.get("map") or known_map(job, [found.names[node] for node in sorted(found.bind)])
    kept = keep_character(found, job["name"], asked, unit, bool(job.get("lighter")))
    Path(job["out"]).write_bytes(kept.content)
    return {
        **out, "key": kept.key, "joints": kept.joints, "names": kept.names, "height_m": kept.stature_m, "unit": measure.unit,
        "told": measure.told, "hints": [*measure.hints, kept.face], "left_out": found.said, "map": asked,
    }  # fmt: skip


def _movie(job: dict[str, Any]) -> dict[str, Any]:
    """A reference movie, written to `out`."""
    out = Path(job["out"])
    made = keep_movie(Path(job["path"]), out, job["name"], lambda share: tell(0.05 + 0.9 * share))
    return {
        "kind": "movie", "key": hashlib.sha256(out.read_bytes()).hexdigest(), "seconds": made.seconds, "rate": made.fps,
        "left_out": list(made.said),
    }  # fmt: skip


def _cameras(job: dict[str, Any], found: Found) -> dict[str, Any]:
    """The cameras of a file over its frames; nothing is kept of them until they stand on a stage."""
    rate = float(parse_rate(job.get("rate") or "24/1"))
    tracks = tracks_of(found, job["name"], rate, job.get("unit"), job.get("up"))
    return {"kind": "cameras", "tracks": [one.model_dump() for one in tracks], "left_out": found.said}


def _motion(job: dict[str, Any], content: bytes, along: Along) -> dict[str, Any]:
    """What motion a file holds, written to `out`."""
    skeleton, clips = skeleton_of(content, job["name"], along, job.get("clip"))
    tell(0.4)
    asked = job.get("map") or known_map(job, skeleton.names)
    kept = keep_motion(skeleton, job["name"], asked)
    Path(job["out"]).write_bytes(kept.content)
    return {
        "kind": "motion", "key": kept.key, "seconds": kept.seconds, "rate": skeleton.rate, "joints": kept.joints, "names": skeleton.names, "map": asked,
        "left_out": list(kept.said), "beside": kept.beside.told(), "clips": [{"name": one, "frames": 0} for one in clips],
        **({"called": f"{Path(job['name']).stem} {job.get('clip') or clips[0]}"} if clips else {}),
    }  # fmt: skip


def known_map(job: dict[str, Any], names: list[str]) -> dict[str, str] | None:
    """What was corrected before on a file whose joints are called alike."""
    found: dict[str, str] | None = job.get("known", {}).get(alike(names))
    return found


def tell(share: float) -> None:
    """Say how far it is, 0 to 1."""
    print(json.dumps({"share": round(share, 3)}), flush=True)


def main() -> None:
    """Read the job that standard input holds."""
    job = json.loads(sys.stdin.read())
    os.environ[APART] = "1"
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    seconds = seconds_for(job["name"], bool(job.get("lighter")))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        said: dict[str, Any] = {"report": read(job)}
    except HeronError as error:
        said = {"problem": {"reason": error.reason, "remedy": error.remedy, "field": error.field}}
    except MemoryError:
        said = {
            "problem": {
                "reason": f"{job['name']} takes more memory than there is.",
                "remedy": "Make it lighter where it was made.",
                "field": "",
            }
        }
    except Exception as error:  # whatever a file leads to is said, not shown as a failure of the desk
        said = {
            "problem": {
                "reason": f"{job['name']} cannot be read ({type(error).__name__}).",
                "remedy": "Export it again.",
                "field": "",
            }
        }
    print(json.dumps(said), flush=True)


if __name__ == "__main__":
    main()
