"""Jobs made before tools had a name get their coat's usual one; coats put on so far lie on all pieces."""

from django.db import migrations

from keencoat.core.coat.catalogue import COATS


def fill(apps, schema_editor):
    job_rows = apps.get_model("jobs", "Job").objects
    for job in job_rows.filter(tool=""):
        job.tool = COATS[job.coat].tools[0]
        job.save(update_fields=["tool"])
        job.stamps.update(first=1, last=job.pieces + job.spares)


class Migration(migrations.Migration):
    dependencies = [("jobs", "0003_coats_by_piece")]

    operations = [migrations.RunPython(fill, migrations.RunPython.noop)]
