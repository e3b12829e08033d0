"""Every burn as a row of one view."""

from django.contrib.postgres.fields import ArrayField
from django.db import migrations, models

import keencoat.jobs.burns.models

_VIEW = """
CREATE VIEW jobs_loggedburn AS
SELECT 'grid-' || g.id AS key, 'grid' AS kind, g.id AS row_id, g.job_id, g.burned_at AS at,
       g.machine_name::text AS machine_name, c.units, c.clean_units, c.faint_units, c.harsh_units,
       0::bigint AS spoilt_units, c.defects,
       concat_ws(' ', 'G-' || lpad(g.number::text, 2, '0'), l.code) AS words
  FROM jobs_testgrid g
  LEFT JOIN jobs_coatlot l ON l.id = g.lot_id
  CROSS JOIN LATERAL (
    SELECT count(*) AS units,
           count(*) FILTER (WHERE u.rating = 'clean') AS clean_units,
           count(*) FILTER (WHERE u.rating = 'faint') AS faint_units,
           count(*) FILTER (WHERE u.rating = 'harsh') AS harsh_units,
           array(SELECT d.value FROM jobs_cell x, jsonb_array_elements_text(x.defects -> 'body') d
                  WHERE x.grid_id = g.id AND x.burned = 'full') AS defects
      FROM jobs_cell u WHERE u.grid_id = g.id AND u.burned = 'full') c
 WHERE g.burned_at IS NOT NULL
UNION ALL
SELECT 'batch-' || b.id, 'batch', b.id, b.job_id, b.started_at, b.machine_name::text,
       p.units, p.clean_units, p.faint_units, p.harsh_units, p.spoilt_units, p.defects,
       concat_ws(' ', 'batch ' || b.number, b.artwork_words, p.words)
  FROM jobs_batch b
  CROSS JOIN LATERAL (
    SELECT count(*) AS units,
           count(*) FILTER (WHERE u.rating = 'clean') AS clean_units,
           count(*) FILTER (WHERE u.rating = 'faint') AS faint_units,
           count(*) FILTER (WHERE u.rating = 'harsh') AS harsh_units,
           count(*) FILTER (WHERE u.rating = '' AND (u.spoilt OR u.state = 'stopped')) AS spoilt_units,
           array(SELECT d.value FROM jobs_batchpiece x, jsonb_array_elements_text(x.defects -> 'body') d
                  WHERE x.batch_id = b.id) AS defects,
           string_agg(concat_ws(' ', u.name, u.note), ' ') AS words
      FROM jobs_batchpiece u
     WHERE u.batch_id = b.id AND u.state IN ('burning', 'cooling', 'washed', 'looked', 'stopped')) p
 WHERE p.units > 0
UNION ALL
SELECT 'run-' || r.id, 'run', r.id, r.job_id, r.at, r.machine_name::text,
       r.clean_pieces + r.faint_pieces + r.harsh_pieces, r.clean_pieces, r.faint_pieces, r.harsh_pieces, 0,
       '{}'::text[], concat_ws(' ', 'run', r.note, l.code)
  FROM jobs_runrecord r
  LEFT JOIN jobs_coatlot l ON l.id = r.lot_id
 WHERE NOT EXISTS (SELECT 1 FROM jobs_batch b WHERE b.run_id = r.id)
UNION ALL
SELECT 'artwork-' || a.id, 'artwork', a.id, v.job_id, coalesce(a.ended_at, a.asked_at), m.name::text,
       1, 0, 0, 0, 0, '{}'::text[], concat_ws(' ', w.name, 'piece ' || (a.number + 1))
  FROM jobs_artworkburn a
  JOIN jobs_artworkversion v ON v.id = a.made_id
  JOIN jobs_artwork w ON w.id = v.artwork_id
  JOIN jobs_job j ON j.id = v.job_id
  JOIN shop_machine m ON m.id = j.machine_id
 WHERE a.state = 'done' AND NOT EXISTS (SELECT 1 FROM jobs_batchpiece p WHERE p.burn_id = a.id)
"""


class Migration(migrations.Migration):

    dependencies = [
        ("jobs", "0025_fill_of_batch"),
        ("shop", "0013_stripe_tests"),
    ]

    operations = [
        migrations.CreateModel(
            name="LoggedBurn",
            fields=[
                ("key", models.CharField(max_length=30, primary_key=True, serialize=False)),
                ("kind", models.CharField(choices=keencoat.jobs.burns.models.BurnKind.choices, max_length=8)),
                ("row_id", models.BigIntegerField()),
                ("at", models.DateTimeField()),
                ("machine_name", models.CharField(max_length=60)),
                ("units", models.IntegerField()),
                ("clean_units", models.IntegerField()),
                ("faint_units", models.IntegerField()),
                ("harsh_units", models.IntegerField()),
                ("spoilt_units", models.IntegerField()),
                ("defects", ArrayField(models.TextField())),
                ("words", models.TextField()),
            ],
            options={"db_table": "jobs_loggedburn", "ordering": ("-at", "key"), "managed": False},
        ),
        migrations.RunSQL(_VIEW, "DROP VIEW jobs_loggedburn"),
    ]
