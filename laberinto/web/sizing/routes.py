from flask import Blueprint
bp = Blueprint("sizing", __name__, template_folder="templates")
@bp.get("/timber/boards")
def from_wood() -> str:
    return ""
