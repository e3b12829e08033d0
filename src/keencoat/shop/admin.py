"""Workshops, members and machines in Django's admin: how an account gets its workshop."""

from typing import Any

from django import forms
from django.contrib import admin
from django.core.exceptions import ValidationError
from django.db.models import Model
from django.http import HttpRequest

from keencoat.core.errors import KeenCoatError
from keencoat.shop.models import Machine, Membership, Workshop


class CheckedForm(forms.ModelForm):  # type: ignore[type-arg]
    """Refuses what the rules of the work refuse everywhere else."""

    def __init__(self, *given: Any, **named: Any) -> None:  # noqa: ANN401 # as the parent takes it
        super().__init__(*given, **named)
        for name, field in self.fields.items():
            field.required = field.required and not self._meta.model._meta.get_field(name).null

    def clean(self) -> dict[str, Any] | None:
        """The figures together must make a machine, or a scatter."""
        cleaned = super().clean()
        row = self.instance
        for name, value in (cleaned or {}).items():
            setattr(row, name, value)
        try:
            if isinstance(row, Machine):
                row.to_core()
                row.emission()
            elif isinstance(row, Workshop):
                row.scatter()
        except KeenCoatError as error:
            known = error.field if error.field in self.fields else None
            raise ValidationError({known or "__all__": str(error)}) from error
        return cleaned


@admin.register(Workshop, Membership, Machine)
class ShopAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    """Plain lists; a change here is seen by whoever has the row open elsewhere."""

    form = CheckedForm
    readonly_fields = ("version",)

    def save_model(self, request: HttpRequest, obj: Model, form: forms.ModelForm, change: bool) -> None:  # type: ignore[type-arg]
        """Count the change, as every other write does."""
        if change:
            obj.version += 1  # type: ignore[attr-defined]
        super().save_model(request, obj, form, change)
