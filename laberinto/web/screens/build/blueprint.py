"""The build log's blueprint."""

from __future__ import annotations

from flask import Blueprint

bp = Blueprint("build", __name__, url_prefix="/boards/<int:board_id>/build", template_folder="templates")
