"""Where the calendar's addresses begin."""

from flask import Blueprint

bp = Blueprint("calendar", __name__, url_prefix="/calendar", template_folder="templates")
