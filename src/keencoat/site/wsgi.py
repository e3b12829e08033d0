"""The WSGI entry point that gunicorn serves."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "keencoat.site.settings")

application = get_wsgi_application()
