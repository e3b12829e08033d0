"""The database counts the changes of a workshop: of itself, its machines, its shelf, its room, its people."""

from django.db import migrations, models

COUNT = """
CREATE FUNCTION keencoat_count_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    NEW.changes := OLD.changes + 1;
    RETURN NEW;
END $$;
CREATE TRIGGER changes_are_counted BEFORE UPDATE ON shop_workshop
    FOR EACH ROW EXECUTE FUNCTION keencoat_count_change();

-- Any update of the owner counts as a change; its own trigger does the sum. Arguments: the owner's table, and how its
-- id is found in a changed row c.
CREATE FUNCTION keencoat_tell_owner() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    EXECUTE format('UPDATE %I SET changes = changes WHERE id IN (SELECT DISTINCT %s FROM changed c)',
                   TG_ARGV[0], TG_ARGV[1]);
    RETURN NULL;
END $$;
"""
UNCOUNT = """
DROP FUNCTION keencoat_tell_owner;
DROP TRIGGER changes_are_counted ON shop_workshop;
DROP FUNCTION keencoat_count_change;
"""
OWNED = {
    "shop_membership": "c.workshop_id",
    "shop_machine": "c.workshop_id",
    "shop_owncoat": "c.workshop_id",
    "shop_ingredientprice": "c.workshop_id",
    "shop_roomnote": "c.workshop_id",
    "shop_spottest": "(SELECT m.workshop_id FROM shop_machine m WHERE m.id = c.machine_id)",
}


def tell(owner: str, table: str, key: str) -> migrations.RunSQL:
    made, dropped = [], []
    for event, rows in (("INSERT", "NEW"), ("UPDATE", "NEW"), ("DELETE", "OLD")):
        name = f"tell_{owner}_of_{event.lower()}"
        made.append(
            f"CREATE TRIGGER {name} AFTER {event} ON {table} REFERENCING {rows} TABLE AS changed "
            f"FOR EACH STATEMENT EXECUTE FUNCTION keencoat_tell_owner('{owner}', '{key}')"
        )
        dropped.append(f"DROP TRIGGER {name} ON {table}")
    return migrations.RunSQL(made, dropped)


class Migration(migrations.Migration):
    dependencies = [("shop", "0006_owners_and_deeds")]

    operations = [
        migrations.AddField("workshop", "changes", models.BigIntegerField(default=0, editable=False)),
        migrations.RunSQL(COUNT, UNCOUNT),
        *(tell("shop_workshop", table, key) for table, key in OWNED.items()),
    ]
