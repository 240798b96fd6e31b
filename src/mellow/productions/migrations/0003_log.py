"""Content carries its version; edits become the log of changes."""

import django.db.models.deletion
from django.db import migrations, models

ITEMS = ("camera", "figure", "lens", "mover", "piece", "shot")


def name_what_was_touched(apps, schema_editor):
    """What the edits stored so far touched, as near as their patches tell."""
    change = apps.get_model("productions", "Change")
    for one in change.objects.all().iterator():
        ids = {id_ for table in one.patch.get("items", {}).values() for id_ in table}
        one.touched = sorted(ids | {f"settings/{name}" for name in one.patch.get("settings", {})})
        one.save(update_fields=["touched"])


class Migration(migrations.Migration):

    dependencies = [
        ("productions", "0002_glass"),
    ]

    operations = [
        migrations.RemoveField("scene", "settings_revision"),
        # What is stored so far was written by version 2.
        *(
            migrations.AddField(name, "version", models.PositiveSmallIntegerField(default=2))
            for name in ("scene", *ITEMS)
        ),
        *(
            migrations.AlterField(name, "version", models.PositiveSmallIntegerField(default=3))
            for name in ("scene", *ITEMS)
        ),
        migrations.RemoveIndex("edit", "edit_by_author"),
        migrations.RenameModel("Edit", "Change"),
        migrations.RenameField("change", "redo", "patch"),
        migrations.RenameField("change", "undo", "inverse"),
        migrations.AlterField("change", "scene", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="changes", to="productions.scene")),
        migrations.AlterField("change", "command", models.JSONField(null=True)),
        migrations.AddField("change", "kind", models.CharField(choices=[("do", "Do"), ("undo", "Undo"), ("redo", "Redo")], default="do", max_length=4)),
        migrations.AddField("change", "of", models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name="turns", to="productions.change")),
        migrations.AddField("change", "touched", models.JSONField(default=list)),
        migrations.AddField("change", "version", models.PositiveSmallIntegerField(default=2)),
        migrations.AlterField("change", "version", models.PositiveSmallIntegerField(default=3)),
        migrations.RunPython(name_what_was_touched, migrations.RunPython.noop),
        migrations.AddIndex("change", models.Index(fields=["scene", "author", "kind", "state"], name="change_by_author")),
        migrations.AddConstraint("change", models.UniqueConstraint(fields=("scene", "revision"), name="change_once")),
    ]
