"""A lock holds settings by what they are for; what was locked so far was for filled art."""

from django.db import migrations

import keencoat.shop.stored_field

_FIELDS = ("power_pct", "speed_mm_s", "interval_mm", "passes")
_PAIRS = ", ".join(f"'{name}', {name}" for name in _FIELDS)
# What is kept for good is kept: the same figures, in another form.
_MOVE = f"""
ALTER TABLE jobs_lockedsetting DISABLE TRIGGER USER;
UPDATE jobs_lockedsetting SET settings = jsonb_build_object('schema', 'locked-settings', 'version', 1,
    'body', jsonb_build_object('fills', jsonb_build_object({_PAIRS})));
ALTER TABLE jobs_lockedsetting ENABLE TRIGGER USER;
"""


class Migration(migrations.Migration):
    dependencies = [("jobs", "0012_shapes_by_name_and_version")]

    operations = [
        migrations.AddField(
            "lockedsetting", "settings", keencoat.shop.stored_field.StoredField("locked-settings", null=True)
        ),
        migrations.RunSQL(_MOVE, migrations.RunSQL.noop),
        migrations.AlterField(
            "lockedsetting", "settings", keencoat.shop.stored_field.StoredField("locked-settings")
        ),
        *(migrations.RemoveField("lockedsetting", name) for name in _FIELDS),
    ]
