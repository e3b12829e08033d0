"""Workshops, members and machines in Django's admin: how an account gets its workshop."""

from django.contrib import admin

from keencoat.shop.models import Machine, Membership, Workshop


@admin.register(Workshop, Membership, Machine)
class ShopAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    """Plain lists."""
