"""The one account of a demo server. The sign-in page shows and fills it in; it exists on demo servers only."""

DEMO_USER = "gardener"
DEMO_PASSWORD = "marking-time"
