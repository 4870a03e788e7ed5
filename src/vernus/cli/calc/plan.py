"""The calls of the plan: sizes of scales."""

from __future__ import annotations

import argparse

from vernus.cli.calc.calls import Answer, Calls
from vernus.core.plan.scales import choose_sizes, family_by_id, family_length, required_length
from vernus.job.catalog.shipped import scale_families


def add_size(calls: Calls) -> None:
    """Declare ``calc size``."""
    size = calls.add("size", help="scale sizes that serve a travel")
    size.add_argument("--travel", type=calls.length, required=True)
    size.add_argument("--margin", type=calls.length, default=10.0, help="at each end (default 10 mm)")
    size.add_argument("--face", type=calls.length, help="length of the face it is screwed to")
    size.add_argument("--family", help="one family only")
    size.set_defaults(run=calc_size)


def calc_size(args: argparse.Namespace) -> Answer:
    """The sizes of each family that serve a travel."""
    families = scale_families()
    chosen = [family_by_id(families, args.family)] if args.family else families
    choices, findings = choose_sizes(chosen, args.travel, args.margin, args.face)
    return {
        "required_mm": (
            family_length(chosen[0], args.travel, args.margin)
            if args.family
            else required_length(args.travel, args.margin)
        ),
        "choices": [
            {
                "family": c.family.id,
                "measuring_length_mm": c.measuring_mm,
                "overall_length_mm": c.overall_mm,
                "cut_to_mm": c.cut_to_mm,
                "spare_each_end_mm": c.spare_each_end_mm,
                "fits_face": c.fits_face,
            }
            for c in choices
        ],
        "findings": findings,
    }
