"""Writing to the logbook and finding things in it."""

from django.db.models import Q, QuerySet

from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.logbook.models import LogEntry
from keencoat.shop.models import Workshop
from keencoat.shop.shelf import shelf_of


def find_entries(
    workshop: Workshop, words: str = "", substrate: str = "", coat: str = "", machine: str = ""
) -> QuerySet[LogEntry]:
    """Entries of the workshop, newest first, in which every word is found and every chosen key fits.

    A word is looked for in job names, texts and machine names, and in the labels of substrates, processes, coats.
    """
    found = LogEntry.objects.filter(workshop=workshop)
    shelf = shelf_of(workshop)
    for field, key in (("substrate", substrate), ("coat", coat), ("machine", machine)):
        if key:
            found = found.filter(**{field: key})
    for word in words.split():
        fits = Q(job_name__icontains=word) | Q(text__icontains=word) | Q(machine__icontains=word)
        for field, catalogue in (("substrate", SUBSTRATES), ("process", PROCESSES), ("coat", shelf)):
            keys = [k for k, thing in catalogue.items() if word.lower() in thing.label.lower()]
            fits |= Q(**{f"{field}__in": keys})
        found = found.filter(fits)
    return found
