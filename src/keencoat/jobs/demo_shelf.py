"""Setting cards that the demo workshop was given by a nursery, and what it reckons with: all invented."""

from datetime import datetime
from decimal import Decimal

from keencoat.core.costing import Rates, SlipKind
from keencoat.core.exchange import SettingCard, write_cards
from keencoat.core.quantities import Art, BeamSource
from keencoat.jobs.cards.services import bring_cards
from keencoat.jobs.cost.piece_work import CostTold
from keencoat.jobs.cost.services import money_by_id, tell_cost
from keencoat.jobs.cost.slips import write_slip
from keencoat.jobs.models import Job
from keencoat.shop.models import Workshop
from keencoat.shop.rates import set_rates

_NURSERY = "Nursery by the weir"
_LETTERHEAD = "Workshop of the botanic garden\nGatehouse, behind the palm house\nBooks: entry 14 of the garden office"
_PATH_TILES = SettingCard(
    uid="3f0c5e8e-6a55-4d5d-9b53-5f4f6d0e8a11",
    workshop=_NURSERY,
    title="Path tiles, lower terrace",
    locked_on="2026-05-18",
    substrate="white_glazed_tile",
    process="fuse",
    art=Art.FILLS,
    coat="tio2_glue",
    coat_words="TiO₂ in glue-water, brushed",
    coats=2,
    film_um=30.0,
    thickness_mm=7.0,
    machine_words="Diode over the seed table",
    beam=BeamSource.BLUE,
    rated_w=10.0,
    spot_mm=0.1,
    power_pct=90.0,
    speed_mm_s=48.0,
    interval_mm=0.1,
    passes=1,
    clean_low=0.71,
    clean=0.9,
    clean_high=0.98,
    evidence="proven",
    pieces_clean=21,
    pieces_seen=23,
)


def put_on_shelf(shop: Workshop, at: datetime) -> None:
    """Bring the nursery's card in, as from a file."""
    bring_cards(shop, write_cards([_PATH_TILES], _NURSERY, at.isoformat(timespec="seconds")).encode(), at)


def reckon(shop: Workshop, signs: Job, at: datetime) -> None:
    """What the shop reckons with, what its light signs take, and a quote for them."""
    rates = Rates(Decimal("22.00"), Decimal("2.40"), Decimal("0.34"), Decimal(160), Decimal("0.06"), Decimal("0.19"))
    shop.refresh_from_db()
    shop = set_rates(shop, rates, _LETTERHEAD, shop.version)
    told = CostTold(blank=Decimal("2.10"), consumables=Decimal("0.15"), margin=Decimal("0.35"), for_whom="Orchid house")
    tell_cost(shop, signs.pk, told, 0)
    plan = money_by_id(shop, signs.pk, at).plan
    if plan:
        write_slip(shop, signs.pk, SlipKind.QUOTE, plan.price, at)
