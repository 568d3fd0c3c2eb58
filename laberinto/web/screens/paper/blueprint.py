"""Where a board's paper lives."""

from flask import Blueprint

bp = Blueprint("paper", __name__, url_prefix="/boards/<int:board_id>/paper", template_folder="templates")
