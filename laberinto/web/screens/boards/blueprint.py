"""Where the list of boards lives."""

from flask import Blueprint

bp = Blueprint("boards", __name__, template_folder="templates")
