"""The JSON Schemas of a job, a machine and a scale family, from their declarations. ``make schema`` writes docs/."""

from __future__ import annotations

import json
import sys
from typing import Any

from pydantic.json_schema import models_json_schema

from vernus.job.catalog.shared import JOBS_OWN, SharedFamily
from vernus.job.catalog.templates import MachineTemplate
from vernus.job.entities import ENTITY_TYPES, FamilyEdit
from vernus.job.formats.exchange import FORMAT
from vernus.job.migration import STORED

_DRAFT = "https://json-schema.org/draft/2020-12/schema"


def job_schema() -> dict[str, Any]:
    """The schema (draft 2020-12) of ``job.json``."""
    _, shared = models_json_schema(
        [(m, "serialization") for m in ENTITY_TYPES.values()], ref_template="#/$defs/{model}"
    )
    definitions = shared["$defs"]
    for kind, model in ENTITY_TYPES.items():
        own = definitions[model.__name__]
        own["properties"] = {"kind": {"const": kind}, **own["properties"]}
        own["required"] = ["kind", *[r for r in own.get("required", []) if r != "kind"]]
    return {
        "$schema": _DRAFT,
        "title": "Vernus job",
        "type": "object",
        "required": ["format", "version", "entities"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": STORED},
            "entities": {
                "type": "array",
                "items": {"oneOf": [{"$ref": f"#/$defs/{m.__name__}"} for m in ENTITY_TYPES.values()]},
            },
        },
        "$defs": definitions,
    }


def machine_schema() -> dict[str, Any]:
    """The schema of a machine's template."""
    return {"$schema": _DRAFT, **MachineTemplate.model_json_schema(by_alias=True), "title": "Vernus machine"}


def family_schema() -> dict[str, Any]:
    """The schema of a scale family that somebody measured."""
    figures = FamilyEdit.model_json_schema()
    definitions = figures.pop("$defs", {})
    own = {name: said for name, said in figures["properties"].items() if name not in JOBS_OWN}
    made = SharedFamily.model_json_schema()
    made["properties"]["figures"] = {
        "type": "object",
        "additionalProperties": False,
        "properties": own,
        "minProperties": 1,
    }
    return {"$schema": _DRAFT, **made, "title": "Vernus scale family", "$defs": definitions}


_SCHEMAS = {"job": job_schema, "machine": machine_schema, "family": family_schema}

if __name__ == "__main__":
    sys.stdout.write(json.dumps(_SCHEMAS[sys.argv[1]](), indent=1, ensure_ascii=False) + "\n")
