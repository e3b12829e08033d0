from django.db import migrations, models


def count(apps, schema_editor):
    """Jobs whose coat was measured: on how many pieces."""
    Job, Photo = apps.get_model("jobs", "Job"), apps.get_model("jobs", "CoatPhoto")
    for job in Job.objects.filter(coat_cv__isnull=False):
        pieces = Photo.objects.filter(job=job, cv__isnull=False, simulated=False).values_list("piece", flat=True)
        Job.objects.filter(pk=job.pk).update(coat_cv_pieces=len(set(pieces)))


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0006_runs_and_carrying'),
    ]

    operations = [
        migrations.AddField(
            model_name='job',
            name='coat_cv_pieces',
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.RunPython(count, migrations.RunPython.noop),
    ]
