"""The logbook is not emptied either; and the guard lets an owner's deletion of one whole job through."""

from django.db import migrations

_REFUSE = """
CREATE OR REPLACE FUNCTION keencoat_refuse_rewrite() RETURNS trigger LANGUAGE plpgsql AS
$$BEGIN
  IF TG_OP = 'DELETE' AND TG_TABLE_NAME = 'jobs_lockedsetting' THEN
    IF current_setting('keencoat.deleting_job', true) = (to_jsonb(OLD) ->> 'job_id') THEN
      RETURN OLD;
    END IF;
  END IF;
  RAISE EXCEPTION '% is never rewritten', TG_TABLE_NAME USING ERRCODE = 'integrity_constraint_violation';
END$$
"""
_AS_BEFORE = """
CREATE OR REPLACE FUNCTION keencoat_refuse_rewrite() RETURNS trigger LANGUAGE plpgsql AS
$$BEGIN
  RAISE EXCEPTION '% is never rewritten', TG_TABLE_NAME USING ERRCODE = 'integrity_constraint_violation';
END$$
"""
_KEEP = """
CREATE FUNCTION keencoat_refuse_truncate() RETURNS trigger LANGUAGE plpgsql AS
$$BEGIN
  -- A test database is emptied between tests: it says so on its connections.
  IF current_setting('keencoat.test_database', true) IS DISTINCT FROM 'on' THEN
    RAISE EXCEPTION '% is never emptied', TG_TABLE_NAME USING ERRCODE = 'integrity_constraint_violation';
  END IF;
  RETURN NULL;
END$$
"""


class Migration(migrations.Migration):
    dependencies = [("logbook", "0003_runs")]

    operations = [
        migrations.RunSQL(_REFUSE, _AS_BEFORE),
        migrations.RunSQL(_KEEP, "DROP FUNCTION keencoat_refuse_truncate()"),
        migrations.RunSQL(
            "CREATE TRIGGER the_log_is_not_emptied BEFORE TRUNCATE ON logbook_logentry "
            "FOR EACH STATEMENT EXECUTE FUNCTION keencoat_refuse_truncate()",
            "DROP TRIGGER the_log_is_not_emptied ON logbook_logentry",
        ),
    ]
