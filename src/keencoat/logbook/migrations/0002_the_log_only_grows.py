"""The logbook only grows: the database itself refuses to rewrite it."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("logbook", "0001_initial")]

    operations = [
        migrations.RunSQL(
            "CREATE FUNCTION keencoat_refuse_rewrite() RETURNS trigger LANGUAGE plpgsql AS "
            "$$BEGIN RAISE EXCEPTION '% is never rewritten', TG_TABLE_NAME USING ERRCODE = 'integrity_constraint_violation'; END$$",
            "DROP FUNCTION keencoat_refuse_rewrite()",
        ),
        migrations.RunSQL(
            "CREATE TRIGGER the_log_only_grows BEFORE UPDATE OR DELETE ON logbook_logentry "
            "FOR EACH ROW EXECUTE FUNCTION keencoat_refuse_rewrite()",
            "DROP TRIGGER the_log_only_grows ON logbook_logentry",
        ),
    ]
