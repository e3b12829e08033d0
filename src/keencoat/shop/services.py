"""What can be done in the shop."""

from typing import Any

from django.db import IntegrityError, transaction

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.quantities import BeamSource
from keencoat.core.safety import Pulsing, usual_emission
from keencoat.core.window import Scatter
from keencoat.shop.access import find_one, require_version
from keencoat.shop.models import Machine, Membership, Workshop


def save_machine(workshop: Workshop, values: dict[str, Any], machine_id: int | None = None, seen: int = 1) -> Machine:
    """Add a machine, or change one that is still at version `seen`.

    Raises BadValueError (figures, doubled name), MissingError, StaleError.
    """
    try:
        with transaction.atomic():
            if machine_id is None:
                machine = Machine(workshop=workshop)
            else:
                rows = Machine.objects.select_for_update().filter(workshop=workshop)
                machine = find_one(rows, "machine", pk=machine_id)
                require_version(machine, seen, "machine")
                machine.version += 1
            for name, value in values.items():
                setattr(machine, name, value)
            if not machine.pulsing:
                machine.pulsing = usual_emission(BeamSource(machine.source)).pulsing
            if machine.pulsing != Pulsing.PULSED:
                machine.pulse_mj = machine.pulse_rate_khz = None
            machine.to_core()
            machine.emission()
            machine.save()
    except IntegrityError as error:
        raise BadValueError(
            f"A machine named “{values['name']}” is there already.", field="name", hint="Give it another name."
        ) from error
    return machine


@transaction.atomic
def set_scatter(workshop: Workshop, scatter: Scatter, wanted_share: float, seen: int) -> Workshop:
    """Store how much the shop varies and which share of clean pieces it wants, if nobody did since version `seen`."""
    require_within(wanted_share, 0.5, 0.999, "wanted_share")
    row = Workshop.objects.select_for_update().get(pk=workshop.pk)
    require_version(row, seen, "scatter")
    row.coat_cv, row.power_cv, row.focus_cv = scatter.coat_cv, scatter.power_cv, scatter.focus_cv
    row.wanted_share = wanted_share
    row.version += 1
    row.save(update_fields=["coat_cv", "power_cv", "focus_cv", "wanted_share", "version"])
    return row


@transaction.atomic
def set_units(member: Membership, speed_unit: str, interval_unit: str, seen: int) -> None:
    """Store the units that a member reads, if nobody did since version `seen`."""
    require_version(Membership.objects.select_for_update().get(pk=member.pk), seen, "choice of units")
    member.speed_unit, member.interval_unit, member.version = speed_unit, interval_unit, seen + 1
    member.save(update_fields=["speed_unit", "interval_unit", "version"])


@transaction.atomic
def set_shelf(workshop: Workshop, currency: str, wanted_density: float, seen: int) -> Workshop:
    """Store the currency sign and what counts as dark enough, if nobody changed the workshop since version `seen`."""
    require_within(wanted_density, 0.1, 6, "wanted_density")
    row = Workshop.objects.select_for_update().get(pk=workshop.pk)
    require_version(row, seen, "shelf")
    row.currency, row.wanted_density, row.version = currency[:3], wanted_density, seen + 1
    row.save(update_fields=["currency", "wanted_density", "version"])
    return row
