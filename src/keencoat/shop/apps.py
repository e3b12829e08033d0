"""The shop: workshops, members, machines."""

from django.apps import AppConfig


class ShopConfig(AppConfig):
    """App of what a workshop owns."""

    name = "keencoat.shop"
