"""The one way by which JSON goes into the database and comes out of it: with the name and version of its shape."""

from typing import Any

from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models import JSONField
from django.db.models.fields.json import KeyTransform

from keencoat.core.stored import SHAPES


class StoredField(JSONField):
    """JSON of one of `core.stored.SHAPES`. Rows hold the body; the column holds it with its name and version, under
    `body` for queries."""

    def __init__(self, shape: str, **kwargs: Any) -> None:  # noqa: ANN401 # whatever a field takes
        self.shape = SHAPES[shape]
        super().__init__(**kwargs)

    def deconstruct(self) -> Any:  # noqa: ANN401 # as Django has it
        name, path, args, kwargs = super().deconstruct()
        return name, path, [self.shape.name, *args], kwargs

    def get_db_prep_save(self, value: Any, connection: BaseDatabaseWrapper) -> Any:  # noqa: ANN401
        if value is not None and not hasattr(value, "as_sql"):
            value = self.shape.pack(value)
        return super().get_db_prep_save(value, connection)

    def from_db_value(self, value: Any, expression: Any, connection: BaseDatabaseWrapper) -> Any:  # noqa: ANN401
        found = super().from_db_value(value, expression, connection)
        return found if found is None or isinstance(expression, KeyTransform) else self.shape.unpack(found)
