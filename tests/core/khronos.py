"""The Khronos glTF validator, as a check of what is written."""

import json
import subprocess
import tempfile
from pathlib import Path

WEB = Path(__file__).parents[2] / "web"
_SCRIPT = (
    "const v=require('gltf-validator'),fs=require('fs');Promise.all(process.argv.slice(1).map(f=>"
    "v.validateBytes(new Uint8Array(fs.readFileSync(f))).then(r=>r.issues))).then(r=>console.log(JSON.stringify(r)))"
)


def assert_valid(*contents, warned=True):
    """Each `.glb` (bytes) has no errors by the validator; nor warnings, unless it may be warned of."""
    with tempfile.TemporaryDirectory() as folder:
        paths = [Path(folder) / f"{i}.glb" for i in range(len(contents))]
        for path, content in zip(paths, contents, strict=True):
            path.write_bytes(content)
        told = subprocess.run(
            ["node", "-e", _SCRIPT, *map(str, paths)], cwd=WEB, capture_output=True, text=True, check=True
        )
    found = json.loads(told.stdout)
    assert len(found) == len(contents)
    for issues in found:
        assert issues["numErrors"] == 0, issues["messages"][:5]
        assert warned or issues["numWarnings"] == 0, issues["messages"][:5]
