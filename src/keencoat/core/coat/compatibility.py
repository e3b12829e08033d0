"""Can this beam mark this piece, through this process, under this coat? With the reason, as findings.

`shelf` holds the coats to choose from: the catalogue, or a workshop's own coats beside it.
"""

from collections.abc import Mapping

from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.incompatible import coat_clash
from keencoat.core.coat.recipes import Coat
from keencoat.core.errors import require_known
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.quantities import BeamSource
from keencoat.core.substrate import (
    PROCESSES,
    Family,
    Process,
    Substrate,
    find_process,
    find_substrate,
    hazards_of,
    marks_bare,
)


def coats_that_help(process: Process, source: BeamSource, shelf: Mapping[str, Coat] = COATS) -> list[Coat]:
    """The coats of this process that work under this beam, the usual one first, a maker's own ones last."""
    # Soap only shields a piece that absorbs by itself, which no process but a CO₂ one relies on.
    listed = [shelf[key] for key in process.coats]
    own = [coat for coat in shelf.values() if process.key in coat.serves]
    return [coat for coat in listed + own if source in coat.absorbs]


def processes_for(substrate: Substrate, source: BeamSource) -> list[Process]:
    """The processes that suit this substrate and beam."""
    if substrate.refused:
        return []
    return [p for p in PROCESSES.values() if substrate.key in p.substrates and source in p.sources]


def assess(
    substrate_key: str,
    source: BeamSource,
    process_key: str = "",
    coat_key: str = "",
    shelf: Mapping[str, Coat] = COATS,
) -> list[Finding]:
    """Judge a choice, as far as it is made; no `stop` finding means that it can be tried.

    Raises UnknownNameError for a key that no catalogue holds.
    """
    substrate = find_substrate(substrate_key)
    if substrate.refused:
        return [
            Finding(
                FindingCode.SUBSTRATE_REFUSED,
                Severity.STOP,
                f"No beam on {substrate.label}. {substrate.refused}",
                fix="Take glass, glazed tile, acrylic known to be PMMA, or coated metal.",
                source="polymer-smoke",
            )
        ]
    findings = [*_bare_findings(substrate, source), *_hazard_findings(substrate, source)]
    if process_key:
        process = find_process(process_key)
        findings += _process_findings(substrate, source, process)
        if coat_key:
            coat = shelf[require_known(coat_key, shelf, "coat")]
            findings += _coat_findings(substrate, source, process, coat, shelf)
    return findings


def _bare_findings(substrate: Substrate, source: BeamSource) -> list[Finding]:
    absorptance = substrate.bare_absorptance[source]
    if substrate.family is Family.METAL or marks_bare(substrate, source):
        return []
    way = "goes straight through" if substrate.passes_light else "bounces off"
    lost_pct = 100 * (1 - absorptance.value)
    return [
        Finding(
            FindingCode.NEEDS_COAT,
            Severity.WARN,
            f"The {source.label} beam {way} bare {substrate.label}: about {lost_pct:.0f} % of it does no work.",
            fix="Put on a layer that absorbs it: dark and matt on glass and acrylic, titanium dioxide on white glaze.",
            figures={"kept_pct": 100 * absorptance.value},
            source=absorptance.source,
        )
    ]


def _hazard_findings(substrate: Substrate, source: BeamSource) -> list[Finding]:
    return [
        Finding(hazard.code, Severity.NOTE, hazard.what, fix=hazard.instead, source=hazard.source)
        for hazard in hazards_of(substrate, source)
    ]


def _process_findings(substrate: Substrate, source: BeamSource, process: Process) -> list[Finding]:
    findings = []
    if substrate.key not in process.substrates:
        suits = [p.label for p in processes_for(substrate, source)]
        findings.append(
            Finding(
                FindingCode.PROCESS_SUBSTRATE,
                Severity.STOP,
                f"“{process.label}” is not a process for {substrate.label}.",
                fix=f"What suits it: {', '.join(suits) or 'nothing with this beam'}.",
                source="common-practice",
            )
        )
    if source not in process.sources:
        beams = ", ".join(s.label for s in process.sources)
        findings.append(
            Finding(
                FindingCode.PROCESS_BEAM,
                Severity.STOP,
                f"“{process.label}” does not work with a {source.label} beam.",
                fix=f"It takes: {beams}.",
                source="common-practice",
            )
        )
    return findings


def _coat_findings(
    substrate: Substrate, source: BeamSource, process: Process, coat: Coat, shelf: Mapping[str, Coat]
) -> list[Finding]:
    fitting = [c for c in coats_that_help(process, source, shelf) if coat_clash(substrate, c) is None]
    helpful = ", ".join(c.label for c in fitting) or "none with this beam"
    if coat.does_not_work:
        reason = coat.does_not_work
    elif source not in coat.absorbs:
        reason = f"It does not absorb the {source.label} beam. {coat.why}"
    elif coat.key not in process.coats and process.key not in coat.serves:
        reason = f"It is not a layer for “{process.label}”."
    elif clash := coat_clash(substrate, coat):
        reason = clash.reason
    else:
        return []
    return [
        Finding(
            FindingCode.COAT_UNSUITED,
            Severity.STOP,
            f"{coat.label.capitalize()}: {reason}",
            fix=f"Coats that help: {helpful}.",
            source="common-practice",
        )
    ]
