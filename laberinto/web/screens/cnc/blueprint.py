"""Where a board's CNC page lives."""

from flask import Blueprint

bp = Blueprint("cnc", __name__, url_prefix="/boards/<int:board_id>/cnc", template_folder="templates")
