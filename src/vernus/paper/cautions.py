"""The cautions that screen and paper always show."""

CAUTIONS = (
    "Isolate and lock off the machine before hands go near screws, gears or belts.",
    "Mains work, earthing and supply changes: follow local electrical codes; where they ask for a licensed "
    "electrician, use one.",
    "Columns, heads and tables are heavy and topple: use a hoist or a second person.",
    "Never defeat a guard or an interlock; keep gear covers on. Spinning handwheels on a power-fed screw break "
    "fingers: disengage them or fold the handles.",
    "Eye protection for drilling, chips and compressed air. Solvents: ventilation, no flames. Keep magnets away from "
    "pacemakers.",
    "Follow the makers' instructions where they differ from this report.",
)
