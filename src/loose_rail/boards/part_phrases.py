"""What several words of the bench say together about a part, in one spelling."""

from __future__ import annotations

import re

PHRASES = tuple(
    (re.compile(pattern), plain)
    for pattern, plain in (
        (r"power[- ]factor|\bpfc\b", "pfc"),
        (
            r"\b(?:hv|high[- ]voltage|pfc|boost|dc[- ]link|dc[- ]bus|(?:[345]\d0|[345]\d5) ?v)"
            r"(?: (?:dc|bus|output|storage|bulk|filter|smoothing|main))*"
            r" (?:can|cap|capacitor|electrolytic|elko)s?\b"
            r"(?! (?:beside|next|near|at|by|of)\b[^,;]*\b(?:chip|controller|ic|pwm)\b)",
            "bulk capacitor",
        ),
        (
            r"\b(pfc|boost|standby|primary|current|llc|half[- ]bridge|led)('s)? shunt\b"
            r"(?! (?:regulator|reference))",
            r"\1 sense resistor",
        ),
        (
            r"\b(first|second|third|fourth|last|upper|lower) (?:one )?from (?:the )?"
            r"(?:bulk|top|plus|high side|rail)\b",
            r"\1",
        ),
        (
            r"\b(?:sense|shunt|current)(?: sense)? resistor (?:under|below|beneath) the "
            r"(?:lower|bottom|low[- ]side) (?:fet|mosfet|switch|transistor)\b",
            "half-bridge sense resistor",
        ),
        (
            r"\b(?:start-?up|starting|starter) (?:cap|capacitor|can|electrolytic) (?:of|at|for|"
            r"beside) "
            r"(?:the )?(standby |main |boost |pfc |supply )?(?:controller|chip|ic|pwm)\b",
            r"\1controller supply capacitor",
        ),
        (
            r"^(?:across )?(?:the )?(?:[+-] of (?:the )?)?main (?:filter |smoothing |storage )?"
            r"(?:cap|capacitor|can|electrolytic|elko)s?\b(?!.*(?:\d ?v\b|controller|chip|\bic\b))",
            "bulk capacitor",
        ),
        (
            r"\b(?:small |little )?transistor (?:that|which) (?:switches|feeds|passes|gives|"
            r"turns)(?: on)? "
            r"(?:the )?(?:vcc|vdd|supply)(?: on)?(?: to| for| of)?(?: the)?"
            r"(?: (?:llc|main|resonant|half[- ]bridge))? (?:chip|controller|ic|pwm)\b",
            "supply switch of the main controller",
        ),
        (
            r"\bresistor (?:at|in|on|under|below|from) the (source|gate|base|emitter)(?: pin)? "
            r"(?:of|at) ",
            r"\1 resistor of ",
        ),
        (
            r"\b(standby|main)( supply)?('s)? secondary( side)? "
            r"(diode|rectifier|schottky|cap|capacitor|can|electrolytic)s?\b",
            r"\1 output \5",
        ),
        (r"\bopto(?:coupler)? (standby|main|pfc|start) (?:led|diode|transistor)\b", r"\1 coupler"),
        (r"\b(rectifier|diode|schottky) of the (standby|main)( supply)?$", r"\2 output \1"),
        (
            r"\b(standby|main|boost|pfc) controller's (?:can|cap|capacitor)\b",
            r"\1 controller supply capacitor",
        ),
        (
            r"\b(?:caps|capacitors|electrolytics|cans) (?:on|of|at) (?:the )?(\d+(?:\.\d+)? ?v)\b",
            r"\1 reservoir",
        ),
        (
            r"^(?:the )?(\d+(?:\.\d+)? ?v) (?:standby|stby|sb) (?:cap|capacitor|can|"
            r"electrolytic)s?$",
            r"\1 reservoir",
        ),
        (r"\b(sense|gate|source|start|start-?up|bleed|base|series) r\b", r"\1 resistor"),
        (
            r"\b(?:hv|high[- ]voltage) (?:winding|coil|side)\b(?: of| on)?(?: the)?"
            r"(?: t\d+)?(?=[^,;]*\binverter\b|$)",
            "transformer secondary",
        ),
        (r"\bccfl\b", "inverter"),
        (r"\bbleeder\b( resistor)?|bleed(ing)? resistor", "bulk bleed resistor"),
        (r"\bin the gate of the\b", "gate resistor of the"),
        (r"\bx ?[2-9]\b,? (?=in (a )?(row|series|parallel)|each\b|pieces|side by side)", " "),
        (r"\bin (series|parallel)\b", " "),
        (r"(?<=resistor) (from|off|fed from|fed by) (the )?(bulk|mains|high side)\b", " "),
        (r"(?<=resistors) (from|off|fed from|fed by) (the )?(bulk|mains|high side)\b", " "),
        (
            r"\b(small|little|tiny) (electrolytic|capacitor|cap|can|elko)\b(?: \w+){0,2}? "
            r"(?:beside|next to|near|at|by|of)(?: the)? (standby |main |boost |pfc |supply )?"
            r"(controller|chip|ic|pwm)\b",
            r"\3controller supply capacitor",
        ),
        (
            r"\b\d{1,2} ?[µu]f?\b(?: ?/? ?\d+ ?v\b)?(?: (?:electrolytic|capacitor|cap|can|elko))? "
            r"(?:beside|next to|near|at|by|of)(?: the)? (standby |main |boost |pfc |supply )?"
            r"(controller|chip|ic|pwm)\b",
            r"\1controller supply capacitor",
        ),
        (
            r"(cartridge |little )?fuse (in|of|inside) (the |its )?(mains )?plug( ?top)?\b(?! of)|"
            r"\bplug(-| )?(top )?fuse\b|^(mains |power )?(cord|lead|flex)$",
            "mains cord",
        ),
        (
            r"\b(vcc|vdd|aux(iliary)?|bias)[- ](winding )?(rectifier|diode)( diode)?\b|"
            r"\b(rectifier|diode) (of|at|in|for|behind|from) the (vcc|vdd|aux\w*|bias)"
            r"( winding| supply)?\b|"
            r"\b(rectifier|diode) of the (?=[\w ]*controller'?s supply)",
            "auxiliary rectifier",
        ),
        (r"diodes? of the bridge", "bridge"),
        (
            r"\b(small |little )?transistor (that|which) (pulls|drives|switches|holds) "
            r"(that|the|its|this) gate( of the (panel )?switch)?( (down|low))?",
            "driver of panel rail switch",
        ),
        (
            r"\b(sense|sensing|feedback|divider|sampling) (chain|ladder)\b"
            r"( of the (pfc|boost))?( (at|from|across|to) (the )?bulk)?",
            r"divider\3",
        ),
        (
            r"\bresistor (in front of|before|ahead of) (the )?(\w+ )?(transformer|chip|switcher)\b",
            r"resistor in the feed of the \3",
        ),
        (r"\b(small|smaller|little) (?=transformer)", "standby "),
        (r"\b(big|bigger|large|larger) (?=transformer)", "main "),
        (
            r"from (?:the )?bulk\b[^,;]* to (?:the )?[^,;]*"
            r"(?:reference|ref|sense|feedback|fb|comp)\w*( pin| input)?\b",
            "boost upper divider resistor",
        ),
        (
            r"from (?:the )?([\d.,]+ ?v\w*|output|rail)\b[^,;]* to (?:the )?[^,;]*"
            r"(?:reference|ref|sense|feedback|fb|regulator)\w*('s)?( pin| input| reference)*\b",
            r"upper divider resistor of the \1",
        ),
        (
            r"from (?:the )?[^,;]*(?:reference|ref|sense|feedback|fb) ?(pin|input)? to (the )?"
            r"(ground|gnd|minus)\b",
            "lower divider resistor",
        ),
        (r"suppressor at the (jack|input)|input suppressor|\btransil\b", "tvs"),
        (r"\b(?:(?!ic|zd|fb|cn|rv|rt|pc|tr)[a-z]{2,3})?431[a-z]{0,2}\b", "reference"),
        (r"\bswitcher\b(?! (chip|ic|controller))", "switch"),
        (r"\b(feedback|divider|sens(e|ing)) chain\b", "divider"),
        (
            r"\b(noise |interference |emi |rfi |radio |x[- ]class |class[- ]x )(suppress\w+ )?"
            r"(cap|capacitor)s?\b|\bsuppress(ion|or) (cap|capacitor)s?\b",
            "x2 capacitor",
        ),
        (r"\b(y[- ]class|class[- ]y) (cap|capacitor)s?\b", "y1 capacitor"),
        (r"\b(string|chain|row|leg|half|arm) of (?=(the |a )?[\w ]*\bdivider\b)", ""),
        (r"\b(?<=divider) (string|chain|row)\b", ""),
        (r"(?<![-\w])(?<!power )on[- ](?=(transistor|coupler|opto))", "start "),
        (
            r"(inrush|soft[- ]?start|surge|pre[- ]?charge) (limit\w+ )?resistor|"
            r"(white|cement) (\w+ )?resistor\b(?=[^,;]*\b(relay|inrush|mains)\b)",
            "limiter",
        ),
        (r"(coil|contacts?) of (the )?(?=[\w ]*relay)", ""),
        (
            r"\b(mains|ac|power|iec) (socket|inlet|connector|input)( on the board)?\b|^inlet$",
            "mains inlet connector",
        ),
        (
            r"\b(led|string|strip|back ?light)s?('s)? current[- ](sens\w+|set\w*|measur\w+)"
            r"( resistor)?(?![^,;]*\b(switch|source|mosfet|fet)\b)",
            "string current resistor",
        ),
        (r"half[- ]bridge", "half"),
        (
            r"\b(first|1st|one|upper|left) half( of)?\b(?=[^,;]*\b(rectifier|diode))|"
            r"(?<=rectifier),? (the )?(first|1st|one|upper|left) half\b|"
            r"(?<=diode),? (the )?(first|1st|one|upper|left) half\b",
            " first ",
        ),
        (
            r"\b(second|2nd|lower|right) half( of)?\b(?=[^,;]*\b(rectifier|diode))|"
            r"(?<=rectifier),? (the )?(second|2nd|lower|right) half\b|"
            r"(?<=diode),? (the )?(second|2nd|lower|right) half\b",
            " other half ",
        ),
        (r"start[- ]up", "start"),
        (r"step[- ]down", "step-down"),
        (r"over[- ]voltage|\bovp\b", "over-voltage"),
        (
            r"\bhigh (?=(switch|mosfet|fet|transistor|igbt))|(high|hi)[- ]side|\btop (?=(switch|"
            r"mosfet|fet|transistor|igbt))",
            "upper ",
        ),
        (r"\b(bottom|low) (?=(switch|mosfet|fet|transistor|igbt))", "lower "),
        (r"(?<!hot )(low)[- ]side", "lower"),
        (r"on ?/ ?off|power[- ]on|ps[-_ ]?on", "start"),
        (
            r"(line|mains|emi|rf) (filter|choke)( choke| coil)?(?! cap)|common[- ]mode( choke)?",
            "mains choke",
        ),
        (
            r"(diode|rectifier) bridge|bridge (diode|rectifier)s?|(bridge )?rectifier block",
            "bridge",
        ),
        (r"(black|green|brown|dark) disc\b", "limiter"),
        (r"\b(round green|green round) (thing|part|component|one|bit)\b", "limiter"),
        (
            r"\b(round (blue|yellow|orange|red)|(blue|yellow|orange|red) round) "
            r"(thing|part|one|bit)\b|"
            r"\b(the|that|this) (blue|yellow|orange) (thing|part|one|bit|component)\b",
            "suppressor",
        ),
        (r"(blue|yellow|orange|red) disc\b( varistor)?", "suppressor"),
        (
            r"(\b(big|large|primary|mains|hot[- ]side|main filter|4\d0 ?v) (the )?)+"
            r"((filter|smoothing) )?(can|cap|capacitor|electrolytic|elko)s?\b",
            "bulk capacitor",
        ),
        (r"^(the )?jack( on the board)?$", "adapter connector"),
        (
            r"\b(dc|power|adapter|barrel|input|19 ?v)([- ]in)? "
            r"(jack|socket|connector|plug|inlet)\b",
            "adapter connector",
        ),
        (
            r"\b(opto(coupler|isolator)?|photocoupler|coupler)('s)?,? (led|diode|transistor)"
            r"( side)?\b",
            "coupler",
        ),
    )
)
"""A pattern, and what stands for it; in this order."""
