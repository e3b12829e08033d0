"""Setting cards that came from elsewhere."""

from django.db import models

from keencoat.core.exchange import SettingCard
from keencoat.core.quantities import Art, BeamSource
from keencoat.shop.models import Workshop
from keencoat.shop.stored_field import StoredField


class BroughtCard(models.Model):
    """A setting card of another workshop, as it was brought: a hint, never a fact. Brought twice, it is one."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="brought_cards")
    uid = models.CharField(max_length=64)
    card = StoredField("setting-card")
    brought_at = models.DateTimeField()
    put_away = models.BooleanField(default=False)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("workshop", "uid"), name="brought_card_once"),)

    def __str__(self) -> str:
        return f"{self.card['coat_words']} of {self.card['workshop']}"

    def to_core(self) -> SettingCard:
        """The card as core knows it."""
        return card_of(self.card)


def card_of(facts: dict[str, object]) -> SettingCard:
    """A card, from what was kept."""
    return SettingCard(**(facts | {"art": Art(str(facts["art"])), "beam": BeamSource(str(facts["beam"]))}))  # type: ignore[arg-type]
