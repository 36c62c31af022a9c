"""The live class: who follows it is looked at again when somebody's right to may have ended."""

from typing import Any

from django.apps import AppConfig
from django.contrib.auth.signals import user_logged_out
from django.db.models.signals import post_delete, post_save


class RunningConfig(AppConfig):
    """Streams ask again whether they may go on when a session, a membership, a pass or a run ends or changes."""

    name = "running"

    def ready(self) -> None:
        """Listen to what may end a right to follow."""
        from django.contrib.sessions.models import Session
        from logbook.models import Run
        from studio.models import Member

        from running.following import following
        from running.models import PhonePass, WallPass

        def look_again(**said: Any) -> None:
            following.look_again()

        user_logged_out.connect(look_again, weak=False)
        for model in (Session, Member, Run, WallPass, PhonePass):
            post_delete.connect(look_again, sender=model, weak=False)
        post_save.connect(look_again, sender=Member, weak=False)
