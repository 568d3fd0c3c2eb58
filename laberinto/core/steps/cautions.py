"""Cautions that stand at the step they belong to. They point to the manual and to training; they are neither."""

from __future__ import annotations

MACHINE = (
    "Guards on; eyes, ears and lungs protected. No gloves, no loose sleeves or hair near anything that turns. Unplug it "
    "before you change a blade, bit or knives."
)
"""What holds at every machine; a sheet says it once, where its steps begin."""

DEFER = f"{MACHINE} Follow the machine's manual, local codes and trained supervision. This is arithmetic, not training."
"""Stands at the head of every step list."""

ROUGH = (
    "Look for nails and stones in rough stock before any blade or knife meets it. What is curved or round rocks and rolls: "
    "support it so that it cannot, saw it on the band saw with a carriage or a cradle, and never along a table saw's fence "
    "before it has a straight edge and a flat face."
)
SAW = "Stand out of the line of kickback; riving knife behind the blade."
JOINTER_PLANER = (
    "Nothing shorter than the machine's minimum through jointer or planer; push blocks, hands never over the knives."
)
RESAW = (
    "Re-saw on the band saw with a high fence and the guide set just above the wood; feed slowly with a push block, hands "
    "never in line with the blade, and support what comes off."
)
RIP = "Thin rips fall on the free side of the blade, never between blade and fence. Push stick for the last strip."
ANGLED = (
    "A slanted rip runs on a carriage or in a taper jig with the work clamped, never freehand along the fence. With the "
    "blade tilted, keep the fence on the side it leans away from, so that nothing is trapped beneath it."
)
CROSSCUT = (
    "No freehand cuts. The offcut must be free to move: never trapped between blade and fence or stop. "
    "Keep sawdust out of the stop's corner, and use a crosscut blade."
)
GLUE = "Clamp just until a thin bead shows along the joint; over-tight clamps starve it. Iron clamps stain oak and walnut black."
DRUM = "Light passes, turning the board between them; a heavy bite burns end grain."
ROUTER_SLED = "Shallow passes; clear the cord and the clamps from the path; against the bit's pull, never with it."
PLANE_END_GRAIN = (
    "Many makers never put end grain through a planer; boards have burst. If you do: sacrificial ends, glue cured over "
    "12 hours, a hair a pass, nobody behind the machine."
)
BELT = "Keep the sander moving and flat; it digs a hollow in a second."
HAND_PLANE = "Board against a stop, both hands behind the edge; a dull iron slips."
CNC = (
    "Work and waste clamped outside the cutter's path, dust extracted, eyes and ears protected. Stay clear while it "
    "moves, never leave it alone, and know where it stops. The machine's manual first."
)
TRIM = "Back the exit side with a scrap, or the last fibres chip out. Support the whole board on the sled."
ROUTER = (
    "Shallow passes, against the bit's pull, work clamped and both hands on the router; keep the cord clear. Start away "
    "from corners, and back up where the bit leaves the wood."
)
THIN_END_GRAIN = (
    "Nothing thin across the grain goes through a planer, and nothing shorter than the machine's minimum: it can burst. "
    "Use a drum sander or a sled."
)
DRILL = "Clamp the board face down on something soft. Eyes protected; let the drill clear its chips."
FUMES = "Thin glue fumes and bonds skin at once: gloves, eyes protected, air moving."
CHAMFER = "Light passes with a router, against the bit's pull; start away from the corners, which chip."
DUST = "Fine dust harms lungs and can sensitise skin: extract it and wear a fitted mask."
OILY_RAGS = (
    "Rags with drying oils heat up by themselves and can catch fire: spread them flat outdoors or soak them in water."
)
WAX = "Melt wax in a water bath, away from any flame."
NUT = "Pressed from a nut: some are allergic. Tell whoever will use the board."

USUAL = frozenset({
    SAW, JOINTER_PLANER, RIP, CROSSCUT, GLUE, DRUM, ROUTER_SLED, BELT, HAND_PLANE, CNC, TRIM, ROUTER, DRILL, CHAMFER, DUST, WAX,
})  # fmt: skip
"""What holds whenever that machine runs or that work is done. All others are special to their step."""
