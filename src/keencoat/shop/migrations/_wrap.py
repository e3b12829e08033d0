"""What was kept as bare JSON gets the name and version of its shape around it."""

from django.db import migrations


def wrapped(table: str, shapes: dict[str, str], kept_for_good: bool = False) -> migrations.RunSQL:
    """An operation that wraps columns, by their shapes; `kept_for_good` where triggers refuse to let rows change."""
    around = ", ".join(
        f'"{column}" = CASE WHEN "{column}" IS NULL THEN NULL '
        f"ELSE jsonb_build_object('schema', '{shape}', 'version', 1, 'body', \"{column}\") END"
        for column, shape in shapes.items()
    )
    bare = ", ".join(f"\"{column}\" = \"{column}\" -> 'body'" for column in shapes)
    hold, let = (f"ALTER TABLE {table} {word} TRIGGER USER;" if kept_for_good else "" for word in ("DISABLE", "ENABLE"))
    return migrations.RunSQL(*(f"{hold} UPDATE {table} SET {change}; {let}" for change in (around, bare)))
