"""Where orders live."""

from flask import Blueprint

bp = Blueprint("orders", __name__, url_prefix="/orders", template_folder="templates")
