"""Artwork that was taken is evidence, as locked settings are."""

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models


_GUARD = """
CREATE OR REPLACE FUNCTION keencoat_refuse_rewrite() RETURNS trigger LANGUAGE plpgsql AS
$$BEGIN
  IF TG_OP = 'DELETE' AND TG_TABLE_NAME IN ({tables}) THEN
    IF current_setting('keencoat.deleting_job', true) = (to_jsonb(OLD) ->> 'job_id') THEN
      RETURN OLD;
    END IF;
  END IF;
  RAISE EXCEPTION '% is never rewritten', TG_TABLE_NAME USING ERRCODE = 'integrity_constraint_violation';
END$$
"""
_AS_BEFORE = _GUARD.format(tables="'jobs_lockedsetting'")
_LETS_BOTH_GO = _GUARD.format(tables="'jobs_lockedsetting', 'jobs_artworkversion'")


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0016_grey_wedges'),
        ('logbook', '0004_nor_is_it_emptied'),
    ]

    operations = [
        migrations.CreateModel(
            name='ArtworkVersion',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('version', models.PositiveIntegerField()),
                ('lock_version', models.PositiveIntegerField()),
                ('at', models.DateTimeField()),
                ('spec', keencoat.shop.stored_field.StoredField('artwork-spec')),
                ('setting', keencoat.shop.stored_field.StoredField('setting')),
                ('artwork', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='versions', to='jobs.artwork')),
                ('job', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='artwork_versions', to='jobs.job')),
            ],
            options={
                'ordering': ('id',),
            },
        ),
        migrations.CreateModel(
            name='ArtworkPhoto',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField()),
                ('original', models.BinaryField()),
                ('kind', models.CharField(max_length=8)),
                ('simulated', models.BooleanField(default=False)),
                ('points', keencoat.shop.stored_field.StoredField('corners', null=True)),
                ('trouble', keencoat.shop.stored_field.StoredField('trouble', null=True)),
                ('upright', models.BinaryField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('number', models.PositiveIntegerField(default=0)),
                ('difference', models.BinaryField(null=True)),
                ('reading', keencoat.shop.stored_field.StoredField('artwork-likeness', null=True)),
                ('made', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='photos', to='jobs.artworkversion')),
            ],
            options={
                'ordering': ('-at', '-id'),
            },
        ),
        migrations.CreateModel(
            name='ArtworkBurn',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('piece', models.PositiveIntegerField(default=1)),
                ('state', models.CharField(max_length=8)),
                ('wanted', models.CharField(blank=True, max_length=8)),
                ('pace', models.FloatField()),
                ('lines', models.PositiveIntegerField(default=0)),
                ('lines_done', models.PositiveIntegerField(default=0)),
                ('clock_s', models.FloatField(default=0)),
                ('now_at', models.CharField(blank=True, max_length=40)),
                ('trouble', models.CharField(blank=True, max_length=300)),
                ('asked_at', models.DateTimeField()),
                ('beat_at', models.DateTimeField(null=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('moves', models.BinaryField(null=True)),
                ('number', models.PositiveIntegerField(default=0)),
                ('made', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='burns', to='jobs.artworkversion')),
            ],
            options={
                'ordering': ('id',),
            },
        ),
        migrations.AddConstraint(
            model_name='artworkversion',
            constraint=models.UniqueConstraint(fields=('artwork', 'version', 'lock_version'), name='artwork_version_once'),
        ),
        migrations.RunSQL(_LETS_BOTH_GO, _AS_BEFORE),
        migrations.RunSQL(
            "CREATE TRIGGER artwork_versions_stay BEFORE UPDATE OR DELETE ON jobs_artworkversion "
            "FOR EACH ROW EXECUTE FUNCTION keencoat_refuse_rewrite()",
            "DROP TRIGGER artwork_versions_stay ON jobs_artworkversion",
        ),
        migrations.RunSQL(
            "CREATE TRIGGER artwork_versions_are_not_emptied BEFORE TRUNCATE ON jobs_artworkversion "
            "FOR EACH STATEMENT EXECUTE FUNCTION keencoat_refuse_truncate()",
            "DROP TRIGGER artwork_versions_are_not_emptied ON jobs_artworkversion",
        ),
    ]
