"""Addresses: the API with its streams under /api/, everything else is the single page of the interface."""

from django.urls import path, re_path
from running.streams import follow_phone, follow_run, follow_wall

from config.api import api
from config.page import house_certificate, page

urlpatterns = [
    path("api/runs/<int:run_id>/stream", follow_run),
    path("api/wall/<slug:token>/stream", follow_wall),
    path("api/phone/<slug:token>/stream", follow_phone),
    path("api/", api.urls),
    path("house-certificate", house_certificate),
    re_path(r"^(?!api/|assets/|sw\.js|manifest\.webmanifest).*$", page),
]
