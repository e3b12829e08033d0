"""The database counts the changes of a job: of itself and of all that hangs on it. A burn under way writes ten times a
second how far it is; only where it comes to counts."""

from importlib import import_module

from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell

_OF_GRID = "(SELECT g.job_id FROM jobs_testgrid g WHERE g.id = c.grid_id)"
OWNED = {
    "jobs_coatlot": "c.job_id",
    "jobs_coatstamp": "c.job_id",
    "jobs_coatphoto": "c.job_id",
    "jobs_holduptest": "c.job_id",
    "jobs_testgrid": "c.job_id",
    "jobs_lockedsetting": "c.job_id",
    "jobs_practice": "c.job_id",
    "jobs_runrecord": "c.job_id",
    "jobs_cell": _OF_GRID,
    "jobs_ratingevent": _OF_GRID,
    "jobs_gridphoto": _OF_GRID,
}
BURNS = """
CREATE TRIGGER changes_are_counted BEFORE UPDATE ON jobs_job FOR EACH ROW EXECUTE FUNCTION keencoat_count_change();
CREATE FUNCTION keencoat_tell_job_of_burn() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE jobs_job SET changes = changes WHERE id = (SELECT job_id FROM jobs_testgrid WHERE id = NEW.grid_id);
    RETURN NULL;
END $$;
CREATE TRIGGER tell_job_of_new_burn AFTER INSERT ON jobs_gridburn
    FOR EACH ROW EXECUTE FUNCTION keencoat_tell_job_of_burn();
CREATE TRIGGER tell_job_of_burn AFTER UPDATE ON jobs_gridburn
    FOR EACH ROW WHEN (OLD.state IS DISTINCT FROM NEW.state) EXECUTE FUNCTION keencoat_tell_job_of_burn();
"""
NO_BURNS = """
DROP TRIGGER tell_job_of_burn ON jobs_gridburn;
DROP TRIGGER tell_job_of_new_burn ON jobs_gridburn;
DROP FUNCTION keencoat_tell_job_of_burn;
DROP TRIGGER changes_are_counted ON jobs_job;
"""


class Migration(migrations.Migration):
    dependencies = [("jobs", "0009_locked_settings_are_not_emptied"), ("shop", "0007_changes_counted")]

    operations = [
        migrations.AddField("job", "changes", models.BigIntegerField(default=0, editable=False)),
        migrations.RunSQL(BURNS, NO_BURNS),
        *(tell("jobs_job", table, key) for table, key in OWNED.items()),
        *(tell("shop_workshop", table, "c.workshop_id") for table in ("jobs_drylook", "jobs_experiment")),
    ]
