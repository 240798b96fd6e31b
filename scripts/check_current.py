"""Fails when something made from the code is not current; `make types` or `make schema` mends it."""

import json
import os
import subprocess
import sys
import tempfile
import tomllib
from pathlib import Path

ROOT = Path(__file__).parents[1]
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "mellow.settings")


def main() -> int:
    """Compare the stored API schema, catalogue, TypeScript types and scene schema with fresh ones."""
    import django

    django.setup()
    from heron.scene import Scene
    from mellow.made import made

    fresh = made()
    desk = ROOT / "web/src/api"
    stale = [f"web/src/api/{name}" for name, text in fresh.items() if (desk / name).read_text() != text]
    with tempfile.TemporaryDirectory() as folder:
        source, types = Path(folder) / "openapi.json", Path(folder) / "schema.d.ts"
        source.write_text(fresh["openapi.json"])
        subprocess.run(
            ["npx", "openapi-typescript", str(source), "--default-non-nullable=false", "-o", str(types)],
            cwd=ROOT / "web",
            check=True,
            capture_output=True,
        )
        if types.read_text() != (desk / "schema.d.ts").read_text():
            stale.append("web/src/api/schema.d.ts")
    document = json.dumps(Scene.model_json_schema(), indent=1) + "\n"
    path = ROOT / "docs/scene.schema.json"
    if "--write" in sys.argv:
        path.write_text(document)
    elif path.read_text() != document:
        stale.append("docs/scene.schema.json")
    versions = {
        json.loads((ROOT / "web/package.json").read_text())["version"],
        tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"],
    }
    if len(versions) > 1:
        print(f"Versions differ: {', '.join(sorted(versions))}. Give both the same.", file=sys.stderr)
        return 1
    if stale:
        print(f"Not current: {', '.join(stale)}. Run `make types` and commit the result.", file=sys.stderr)
        return 1
    print("Generated types and schemas are current.")
    return 0


if __name__ == "__main__":
    sys.exit(main())
