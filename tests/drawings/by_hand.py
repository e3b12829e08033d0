"""Drawings by hand: one trap each. What is inside stands on a page of 40 × 30 mm, 80 × 60 units."""

HEAD = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="40mm" height="30mm" '
    'viewBox="0 0 80 60">'
)

FOLLOWED = {
    "a rectangle turned": '<rect x="20" y="20" width="30" height="10" transform="rotate(30 35 25)"/>',
    "an ellipse that leans": '<ellipse cx="40" cy="30" rx="20" ry="8" transform="translate(10 -5) skewX(25)"/>',
    "a circle in a mirrored group": '<g transform="translate(80) scale(-1 1)"><circle cx="20" cy="20" r="11"/></g>',
    "turns in turns": (
        '<g transform="rotate(20)"><g transform="scale(1.2 .7)"><rect x="30" y="5" width="20" height="20" rx="4" '
        'transform="rotate(-40 40 15)"/></g></g>'
    ),
    "a rounded rectangle, one radius": '<rect x="5" y="5" width="60" height="40" ry="50"/>',
    "a stroke that is stretched": (
        '<path d="M5 10H35V25" fill="none" stroke="#000" stroke-width="4" transform="scale(2 1)"/>'
    ),
    "dashes": '<path d="M5 30H75" stroke="#000" stroke-width="6" stroke-dasharray="9 3 2" stroke-dashoffset="-4"/>',
    "dots of no length": (
        '<path d="M10 10h0M30 10h0M50 10z" stroke="#000" stroke-width="8" stroke-linecap="round"/>'
        '<path d="M10 40h0" stroke="#000" stroke-width="8" stroke-linecap="square"/>'
    ),
    "sharp corners within and past the limit": (
        '<path d="M5 50L15 10 25 50" fill="none" stroke="#000" stroke-width="4"/><path d="M45 50L55 10 65 50" '
        'fill="none" stroke="#000" stroke-width="4" stroke-miterlimit="12"/>'
    ),
    "a symbol's page": (
        '<symbol id="s" viewBox="0 0 10 10"><rect width="10" height="10"/><circle cx="10" r="9"/></symbol>'
        '<use href="#s" x="10" y="5" width="50" height="40"/>'
    ),
    "a symbol that fills what it is given": (
        '<defs><symbol id="s" viewBox="-5 -5 10 20" preserveAspectRatio="xMaxYMid slice"><circle r="8"/></symbol></defs>'
        '<use xlink:href="#s" x="10" y="5" width="50" height="40"/>'
    ),
    "a page in a page": (
        '<svg x="20" y="10" width="40" height="20" viewBox="0 0 10 10"><circle cx="5" cy="5" r="7"/></svg>'
    ),
    "a page in a page that shows all": (
        '<svg x="20" y="20" width="20" height="20" overflow="visible"><circle cx="5" cy="5" r="14"/></svg>'
    ),
    "a used page": '<defs><svg id="s" x="5" width="50%" height="30"><rect width="100%" height="50%"/></svg></defs>'
    '<use href="#s" x="10" y="10"/>',
    "nothing of a sheet that cannot be seen": '<g opacity="0"><rect width="70" height="50"/></g><rect width="9" height="9"/>',
    "a sheet is one, however much lies on it": (
        '<g opacity="0.4"><rect x="5" y="5" width="30" height="30"/><rect x="20" y="20" width="30" height="30"/></g>'
        '<g><rect x="50" y="5" width="20" height="20" opacity="0.4"/><rect x="60" y="15" width="15" height="20" '
        'opacity="0.4"/></g>'
    ),
    "white on a sheet": (
        '<rect width="60" height="40"/><g opacity="0.8"><rect x="10" y="10" width="30" height="30" fill="#fff"/>'
        '<rect x="30" y="20" width="15" height="30"/></g>'
    ),
    "a marker that nobody uses": '<marker id="m"><rect width="30" height="30"/></marker><rect width="9" height="9"/>',
    "units": (
        '<rect width="20Q" height="0.5cm"/><rect x="1cm" width="5pt" height="1pc"/><rect y=".3in" x="20%" width="2em" '
        'height="10%" style="font-size:5px"/><circle cx="60" cy="40" r="10%"/>'
    ),
    "both rules": (
        '<path d="M10 10H40V40H10ZM20 20H30V30H20Z"/><path fill-rule="evenodd" d="M45 10H75V40H45ZM55 20H65V30H55Z"/>'
    ),
    "a star by both rules": (
        '<polygon points="20,5 32,45 2,20 38,20 8,45"/><polygon fill-rule="evenodd" points="60,5 72,45 42,20 78,20 48,45"/>'
    ),
    "numbers that touch": '<path d="M10.5.5l-3 20.5.5 2-1.5 8 20-3-4-.5z"/><path d="m40 10 20 5a9 6 10 0120 10z"/>',
    "arcs of every flag": (
        '<path d="M10 20A12 8 20 0 0 30 20zM50 20A12 8 20 0 1 70 20zM10 45A12 8 20 1 0 30 45zM50 45A12 8 20 1 1 70 45z"/>'
    ),
    "arcs that are too small": '<path d="M10 20a2 1 30 0 1 40 10z"/><path d="M10 40a0 5 0 0 1 40 0v10z"/>',
    "back to the start": '<path d="m10 10h10v10zm30 0h10v10zl-5 20 15 3z"/>',
    "a sheet of rules": (
        "<style><![CDATA[.a rect { fill: #fff } g > .b { fill: none; stroke: black; stroke-width: 3 } "
        "#c { fill: black !important }]]></style>"
        '<rect width="60" height="40"/><g class="a"><rect x="5" y="5" width="20" height="20"/>'
        '<circle class="b" cx="40" cy="20" r="10"/><rect id="c" style="fill:#fff" x="10" y="10" width="5" height="5"/></g>'
    ),
    "colours by name and by what holds": (
        '<g color="#111" fill="#eee"><circle cx="20" cy="20" r="10" fill="currentColor"/>'
        '<circle cx="60" cy="20" r="10" fill="inherit"/><circle cx="20" cy="45" r="9" fill="midnightblue"/>'
        '<circle cx="60" cy="45" r="9" fill="rgba(0,0,0,.3)"/></g>'
    ),
    "hidden, but not all of it": (
        '<g visibility="hidden"><rect width="30" height="30"/><rect x="40" width="20" height="20" visibility="visible"/></g>'
    ),
    "a clip, turned": (
        '<clipPath id="c" transform="rotate(10)"><circle cx="30" cy="20" r="15"/></clipPath>'
        '<g transform="translate(10 5)" clip-path="url(#c)"><rect x="10" width="50" height="50"/></g>'
    ),
    "a clip as large as its shape": (
        '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width=".5" height=".7"/></clipPath>'
        '<ellipse cx="40" cy="30" rx="30" ry="15" clip-path="url(#c)"/>'
    ),
    "a clip on a clip": (
        '<clipPath id="a"><rect width="40" height="60"/></clipPath><clipPath id="b" clip-path="url(#a)">'
        '<circle cx="40" cy="30" r="20"/></clipPath><rect width="80" height="60" clip-path="url(#b)"/>'
    ),
    "a clip with a hole": (
        '<clipPath id="c"><path clip-rule="evenodd" d="M0 0H80V60H0ZM20 20H60V40H20Z"/></clipPath>'
        '<circle cx="40" cy="30" r="25" clip-path="url(#c)"/>'
    ),
    "a switch": '<switch><rect requiredExtensions="x" width="80" height="60"/><rect width="20" height="20"/></switch>',
    "what reaches off the page": '<rect x="-10" y="-10" width="30" height="30"/><circle cx="80" cy="60" r="20"/>',
    "parts of other kinds": '<metadata><rect xmlns="urn:x" width="80" height="60"/></metadata><rect width="8" height="8"/>',
    "a link": '<a href="https://example.invalid/"><rect width="30" height="20"/></a>',
    "an open line is filled": '<polyline points="5,5 60,10 30,50"/>',
    "strokes that cross": '<path d="M5 5L70 50M70 5L5 50M5 28H70" fill="none" stroke="#000" stroke-width="7"/>',
    "a line of no width": '<path d="M5 5H70" stroke="#000" stroke-width="0"/><rect y="20" width="9" height="9"/>',
    "a hairline": '<path d="M5 5L70 50" stroke="#000" stroke-width=".4"/>',
    "curves through each other": '<path d="M5 30C80-40-10 100 75 30S-20 70 5 30z"/>',
    "light over dark in groups": (
        '<g id="a"><rect width="60" height="40"/></g><g id="b" fill="#fff"><circle cx="30" cy="20" r="12"/></g>'
    ),
}

REFUSED = {
    "a mask": '<mask id="m"><rect width="9" height="9" fill="#fff"/></mask><rect width="20" height="20" mask="url(#m)"/>',
    "a gradient": '<linearGradient id="g"/><rect width="20" height="20" fill="url(#g)"/>',
    "a marker": '<marker id="m"><rect width="3" height="3"/></marker><path d="M0 0H30" marker-end="url(#m)"/>',
    "a filter by a sheet": '<style>rect { filter: blur(2px) }</style><rect width="20" height="20"/>',
    "a stroke that does not scale": '<path d="M0 0H30" stroke="#000" vector-effect="non-scaling-stroke"/>',
    "a blend": '<g style="mix-blend-mode: multiply"><rect width="20" height="20"/></g>',
    "a clip by a shape": '<rect width="20" height="20" style="clip-path: circle(5px)"/>',
    "a group clipped by its own size": (
        '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width=".5" height=".7"/></clipPath>'
        '<g clip-path="url(#c)"><rect width="20" height="20"/></g>'
    ),
    "a turn by a style": '<rect width="20" height="20" style="transform: rotate(20deg)"/>',
    "rules for a screen": '<style>@media print { rect { fill: none } }</style><rect width="20" height="20"/>',
    "a path that breaks off": '<path d="M0 0 L10"/>',
    "a transform that is none": '<rect width="20" height="20" transform="rotate(4"/>',
    "dashes without end": '<path d="M0 0H1000" stroke="#000" stroke-dasharray="0.001"/>',
}
