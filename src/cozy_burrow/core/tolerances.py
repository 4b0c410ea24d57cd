"""Every tolerance of the core, with its unit and the reason for its size."""

SAME_POINT_MM = 1e-6  # far below what a blade can follow, far above float noise at drawer size
RULE_SLACK_MM = 0.01  # a wall short by less than this is kept: a hundredth is no finding
FLATTEN_MM = 0.02  # chords of drawn curves stay this near the curve: a fifth of a fine pen line
SIT_SLACK_MM = 0.1  # foam gives this much under any tool, so no extra layer is peeled for it
FOAM_GIVES_MM = 0.3  # a lid or a frame presses a thing so far into the foam without being felt: no layer more for it
SLOT_MM = 3.0  # foam grips what is no thicker by itself: its slot is cut on the line
STRIP_MM = 1.5  # a narrower strip of foam cannot be cut out with a knife: one slit, and the foam gives
SLIVER_AREA_MM2 = 1.0  # a scrap of polygon smaller than a blade tip is arithmetic, not foam
JOIN_ENDS_MM = 0.05  # ends of drawn lines nearer than this belong together
SPECK_SHARE = 0.005  # drawn parts below half a per cent of the largest are specks
LARGEST_LENGTH_MM = 10_000.0  # ten metres: anything longer is a slip of the unit
SMALLEST_LENGTH_MM = 0.1  # thinner than a sheet of paper is no tool
