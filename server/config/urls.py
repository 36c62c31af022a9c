"""Addresses: the API under /api/, everything else is the single page of the interface."""

from django.urls import path, re_path

from config.api import api
from config.page import page

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", page),
]
