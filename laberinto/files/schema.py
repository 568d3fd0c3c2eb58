"""The JSON schemas of plans and reports, for editors and other programs."""

from __future__ import annotations

import json
from pathlib import Path

from pydantic import BaseModel

from laberinto.core.plan.model import Plan

from .report import Report

SCHEMAS: dict[str, type[BaseModel]] = {"plan.schema.json": Plan, "report.schema.json": Report}


def schemas() -> dict[str, str]:
    """Text of each schema by its file name."""
    return {
        name: json.dumps(model.model_json_schema(), indent=1, ensure_ascii=False) + "\n"
        for name, model in SCHEMAS.items()
    }


def write(folder: Path) -> list[Path]:
    """Write every schema into a folder; returns the files."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, text in schemas().items():
        (folder / name).write_text(text)
    return [folder / name for name in SCHEMAS]
