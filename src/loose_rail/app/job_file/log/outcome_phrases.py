"""Turns of phrase by which people say what came of a deed, with what each says of the set.

They are taken whole and before single words: “gives up” is no “up”. Between ` | ` stands one each;
`{span}` is a time (“two hours”), `{count}` a number, `{long}` a unit of time. A line that ends in a
backslash goes on in the next, without its indent.
"""

from __future__ import annotations

from loose_rail.app.job_file.log.outcome_tags import Tag

PHRASES: tuple[tuple[Tag, str], ...] = (
    (
        Tag.SMALL,
        r"""
        lunch break | all over(?=$| ?[,.;]| (the|its) (screen|picture|panel)) | straight off |
        after (changing|replacing|fitting|renewing|exchanging)( it| them| this)?(?= ) |
        at (the )?(first|very first) (attempt|try) | heat gun | (after|for) (a|one|two) weeks? |
        final (test|check) |
        same (type|value|part|rating|make|kind|size)s? |
        (switched|turned|plugged|unplugged|cable|load|board|plug) off | instead of \w+( \w+)? |
        out of the (box|blue) |
        without (it|them|that|this|these|that one)(?=$| ?[,.;]) |
        without (the |my |any |a |more )?(hair ?dryer|heat gun|warm\w*|heat\w*|knock\w*|tap\w*|\
            help|push\w*|cable|load|lamp|strip|limiter|plug|cover|panel|back|touch\w*|waiting) |
        as if nothing had \w+ | (both|the|its) ends | dead silence(?= ?,) |
        (mains|cable|load|board|plug|lamps?) (off|out|pulled)(?= ) |
        (from|out of) (the )?(sleep|stand-?by(?! (at last|now))|fridge|car|cold|start|print) |
        (cold|warm) starts?(?= (fails?|again)) | (straight|right) away | any longer |
        short (flash|blink|click|pulse|moment|while|time) | up to | up on the board | as soon as |
        (the )?(first|second) go(?=$| ?[,.;]) |
        as well as | so far as | at (switch|power)-?on | on the (bench|rail) |
        (the )?(protect(ion)?|fault|error) (line|pin)( (is |stays )?low)? | full load |
        if anything | (end|edge|corner|side) to (end|edge|corner|side) | sound of |
        left (half|side|end) | right (half|side|end) |
        (one|a|single) (short )?(click|flash|blink)(?! and in\b) |
        hair ?dryer | cold spray | burn-?in | soak( test)? |
        could (drop|throw|kick|hit|shake) it | to speak of | (after )?the reset |
        (and )?that is that(?=,) | on the \w+ (try|attempt|go)(?= it) |
        (measured|reads?|tested|checked)(?= (ok|good|fine|bad|open)$) |
        down the \w+ | (comes? )?back on(?= the same)
        """,
    ),
    (
        Tag.YES,
        r"""
        (owner|customer|he|she|they) left (smiling|happy|pleased) | running when it left |
        plays? (the |its )?(radio|music|news|film)s?( [\w ]+)? |
        played (until we|for the whole)[\w ]* | (picture|sound|light) follows |
        (white|dark) or (black|bright),? it stays on |
        (did|does) not come back (the )?next \w+ | what a (difference|picture|relief) | ^hurrah |
        ^(the )?remote does (it|that) (now|again) | [\d.]+ ?v at last | back in business |
        (issue|problem|fault|trouble)s? (is |was )?(re)?solved |
        (it|that|this) was the (problem|trouble|issue|fault)( then)?(?= ?$|,) |
        ^like new | brand new picture | power(s|ed) (up |on )now |
        no (faults?|defects?|errors?) (was |were |could be )?found |
        (there is )?peace( at last| since[\w ]*)? |
        stop(s|ped) doing (it|that) | (has|have|did) not (done|do|had) (it|that) (since|again|\
            any ?more)( \w+)? | no (more )?restarts?( so far| since[\w ]*| at all)? |
        bang on it and it (stays|keeps) (on|going) | good guess |
        (customer|owner|he|she|they) (has|have) not (called|phoned|complained|rung|been) \
            ?(back )?(since)? |
        (goes|switches|turns|comes) (on and off|off and on) (as it should|normally|properly|\
            with the remote|by (the )?remote|every time) |
        (customer|owner) satisfied( (at|on|with) \w+)? |
        (never|not) looked back(?= ?$| since) |
        (back )?on (its|her|his|their) (own )?feet( again)? |
        not (an?other|one more|a single) (peep|blink|tick|click|sound|squeak|murmur)\
            ( out of \w+| from [\w ]+)? |
        (held|holds) (for |over |through )?(the|a whole|all) (weekend|week|night|holidays?|\
            month) | cool as (a )?\w+ |
        (customer|owner|he|she|they) (has |have )?(collected|fetched|picked) (it|the \w+)\
            ( up)? | operates? (normally|within [\w ]+|\
            as (it )?(should|ought to)) |
        (self |bench |final |function\w* )?tests? (was |is |were )?passed |
        (symptom|fault|defect|error|trouble|noise|hum)s? (is |was |remained |stayed |\
            remains )?(absent|no longer (reproducible|there|present|found)) |
        sleeps and wakes( up)?( as (told|it should))? | (new |the )?fuse lasts | well done |
        (dances|sings|complains|grumbles) no more | as well as ever |
        (exchange|swap|change|it|new \w+) (brought|was (a|the)) (success|cure) |
        (just )?like its (twin|neighbour|sister|brother) |
        (stays (off|in standby|asleep),? (and )?)?(goes|comes|turns|switches) on and stays on\
            ( (from|by|with) the \w+)? |
        no more (switching|menus|pop-?ups?)(?=$| ?[,.;]) |
        got (it|there) in the end | (ok|fine|good|all well) on (the )?soak( test)? | joy at last |
        (went|goes|gets|got|sails|sailed) through (all )?(of )?(the |its )?(self |bench )?tests? |
        (works?|worked|runs?|goes) (a treat|like a (dream|charm|new one)) |
        bang on(?= ?$|[,.;]) | (?<!no )better off | all the better( for (it|that))? |
        so much the better |
        got (it|her|him|the set) (going|running|working|up)(?! until) | (in|back in) service |
        (back|returned) to service | with(in)? (the )?(tolerance|spec\w*|limits?|margins?) |
        dark (corner|half|side|part|strip|patch|spot|area)s? (is |are |has )?(all )?(lit|bright|\
            alight|gone|light) |
        (customer|owner|he|she|they)? ?(did|does|has|have) not (call\w*|ring|rung|phon\w+|\
            complain\w*)( again| back)?(?= ?$) | (calls?|called|rang|rings)[:,]? thank you |
        nothing (wrong|to report|to complain of|suspicious|found|bad|more to (say|add|fix|repair)) |
        nothing left(?! (to|of)) |
        (it|that) was (it|that|him|the culprit)(?! again) | bingo | spot on | job done |
        fault found | (did|does|done) the trick | success\w* | (among|in) the (living( room)?) |
        (back |come |came |comes )*to life | back to (normal|work|full) |
        back in (the )?(living|use|service) | (ever|good) since | rock ?solid | solid as a rock |
        like a rock | up and running | as it should( be)? | does what it should | where it belongs |
        as new | as good as (new|the day)[\w ]* | as (it (says|is printed)|printed|specified) |
        for good | thanks | (is |was )?(content|happy|satisfied|delighted) |
        (ripple|noise|hum|delay|drop) (is |has )?(gone )?(down|fell|falls|dropped|drops|went down)\
            ( from [\w. ]+)? to |
        (?P<all>five|ten|three|four|six|\d+) (\w+ )?(out )?of (?P=all)\b | goes past [\w ]+ |
        [\d.]+ ?v (instead of|where (there|it) was) [\w. ]+ |
        ^{count} (full |good |whole )?(hour|day|evening|night|week)s?\
            ( (warm|hot|long|without [\w ]+))? |
        (not |never )heard of again | (bulk|rail|it) up to [\d.]+ ?v?$ |
        draws [\d.]+ ?m?a, was [\d.]+ | (error|fault|blink)( code)?s? (is |are )?(cleared|gone) |
        soaked (\w+ )?(clean|fine|without (a |any )?\w+) |
        (played|ran|runs|plays) through (\w+ )?\w+ |
        left on (\w+ )?overnight, still \w+ |
        (runs?|works?|fine|good) (cold and warm|warm and cold) |
        no need (for|of|to) [\w ]+ | no (call|word|news) since | flicker-?free | noise-?free |
        trouble-?free | it (can ?not|could not) be made to \w+ | (no |any )?longer (minds?|cares?) |
        does not (mind|care) | there (it|he|she) is |
        (the )?same (after|for|over|all|even) (an? |another |the next |{count} )*(\w+ )?{long} |
        and still(?= ?$|[,.;]) | falls? silent | fell silent | (it )?reads what is printed |
        up to (its|the) print | comes alive | not miss(ed)? a beat |
        (does|did|do|has) not (budged?|waver(ed)?|drift(ed)?|wobble) |
        lasted (all|the (whole|evening|night|day|film)|through|over)( \w+)? |
        gone (quiet|silent|calm) |
        dead (still|steady|level|on) | (no longer|no more) clicks? | that did it | on the wall |
        in action | (rail|line|volts?) (is |are )?up to |
        nothing left of [\w ]+ | nothing happens to the \w+ | worth it | guilty |
        (drops?|falls?|fell|dropped|down) from [\d.]+ ?m?a to [\d.]+ ?m?a |
        can ?not (hear|see|find|get|make) (a thing|anything|a trace|a fault|\
            it to (fail|misbehave)) |
        (can ?not|no) fault (it|to be found) | (has|had) not (come|been) back(?= ?$) |
        (first|every) go,? every (go|time|morning) | first try,? every \w+( this \w+)? |
        (burns?|burning|glows?) (steadily|evenly|brightly|steady|calmly) |
        (tick\w*|all) (all )?(the )?boxes( ticked)? | takes? commands? | plays? ball |
        without hesitation | as it ought to | (a )?good conscience | it breathes |
        as (hard|long|often|much|loud) as (you|i|we|they|one) (like|want|please|can|wish)s? |
        every time(?= ?$) | hand ?-?warm and no more | one click and in | without a (re)?start |
        (tick|trouble|fault|problem|buzz|hum|noise|flicker\w*|click\w*|error) (has |had )?(went|\
            gone|stayed away) (for good|with [\w ]+) |
        back (it|she|he) (goes|went) to (the|its) owner |
        (on|up) (it|she|he) (goes|went|comes|came) |
        not a word$ | not know (it|he|she) (is |was |has )?(been )?(mended|repaired)$ |
        (has|have) not (rung|called|phoned) since |
        right as rain | good as gold | good enough to \w+ | stops? (up|on)(?= ?$|[,.;]) |
        every (go|morning)( this \w+)? | (all|makes|made) the difference[\w ]* |
        (it|that) was (this|the|that) one(?! (beside|next|behind|before|after)) |
        without (any )?trouble |
        (went|gone|sent|handed) (home|out|back)( to (its|the) owner)?(,| and)? (it |he |she )?\
            (has |was )?(never|not) (came|come|been|heard|seen)( back| of| from)?\
            ( again| since)? |
        (slept )?through the (night|day) | snaps? into life
        """,
    ),
    (
        Tag.NO,
        r"""
        (picture|sound) but (flickers|trembles|jumps|hums|buzzes)(?= ?$) |
        (falls|drops|sags) to [\d.]+ ?v?(?= with) | [\d.]+ ?v (is )?not(?= ?$) |
        ^alas | (buzz|hum|tick|whistle)\w* like (a|an) \w+ | (picture|sound|light) is not(?= ?$) |
        needs? (two|three|four|five|several|many) (pushes|presses|tries|goes|attempts) |
        ^red (lamp|light|led) only | ^(green|blue) for (only |just )?a (second|moment|blink) |
        no volts (anywhere|at all|at any \w+) | [\d.]+ ?v there,? [\d.]+ ?v (not|missing|gone) |
        (picture|sound|light|it plays)(?= but)[\w ,]* (stays|is|remains) (black|dark|dead) |
        bulb (stays|remains|keeps) (on|bright|lit) | (issue|problem|fault|trouble)s? persists? |
        ^(it )?just (sat|sits) there( doing nothing)? | (is |it )?doing it again |
        (did|does) it again | restarts? (just )?(as|so) often( as (before|ever))? |
        still ticking,? (a (bit|little) )?(slower|faster) |
        if (i|you|one) (bang|knock|tap|hit)s? (on )?it,? it goes (off|out) |
        (back|here) (again )?with the (same|old|very) \w+( on \w+| again| \w+day)? |
        (came|comes?) up,? (and )?(fell|falls|keels|keeled|tipped) over[\w ]* |
        (then|and) the (same )?old (story|song|fault|game|tune|trouble) |
        nothing (has |had )?(changed|improved|got) (for the )?(better)? |
        (alive|lit|up|on|there) for (only |just )?(a|one|two|half a) \
            (minute|second|moment|blink)s? |
        (did|does) not do (the trick|it|any good) | still (will|does|would) not (have|do|want) it |
        (goes|went|falls|drops|switches) (in)?to stand-?by (by itself|on its own|alone)\
            ( after [\w ]+)? |
        job (is )?not (yet )?done | (spoke|spoken) too soon | (and )?that is all(?= ?$) |
        (went|goes|gone|going) through (another|two|three|four|\d+) (fuses?|mosfets?|parts?|\
            switches|chips?|tubes?|of them) | went off like a \w+ |
        (?<=^)(scrapped|binned|written off)(?! the) | (beyond|beat|beats|defeats|defeated) me |
        fails? to (power|start|wake|come|switch|turn|light)( \w+)? |
        (fault|defect|symptom|error)s? (was |is )?reproduced( (after|within|in) [\w .]+)? |
        (self |bench |final |function\w* )?tests? (was |is |were )?failed( at [\w ]+)? |
        (present|there) but (pulsing|low|unstable|jumping|not steady) |
        (good|fine|right|ok|works?|runs?|starts?) cold,? (and |but )?(bad|wrong|low|off|dead|\
            fails?|dies|stops?|drops( out)?) (when )?(warm|hot) |
        (falls|drops|fell|dropped|sinks|sank|slides|slid) back( again)? |
        (broke|broken|killed|damaged) something else | (as )?dead as (a |an )?\w+ |
        (reduced|less|weaker|smaller|fainter|rarer|lower) but (still )?(present|there|audible|\
            visible) | better,? but not (well|good|right|there) |
        (the )?same (old )?(song|dance|game|story)( again)? |
        (exchange|swap|change|it|that) brought (no change|nothing) |
        got (slower|weaker|worse) |
        (it|that) was (the )?(other one|one (beside|next to|behind|before|after)( it)?|\
            neighbour) | exchange unnecessary |
        (begins|began|begun) (to (tick|restart|reboot|cycle|flicker|blink|pulse|pump|hum|smell|\
            smoke|trip|dim|sag|fail|hiccup|hunt)|(tick|restart|cycl|flicker|blink|puls)ing) |
        none the better | (no better|worse) off[\w ]* | so much for [\w ]+ | got nowhere |
        (got|gets|get|comes|came|goes|went) (only )?as far as [\w ]+ | out of (tolerance|spec\w*) |
        not with(in)? (the )?(tolerance|spec\w*|limits?) | (good )?old (fault|trouble) is back |
        (lights?|lit|shows?|showed) (up )?half (of )?the \w+ | e\d+ now |
        (calls?|called|rang|rings)[:,]? again | (smell|bang|fault) is gone,? (and )?(the )?set is \
            gone too |
        no (go|dice|cigar|joy|luck|odds|help|use|success|good)\b(?! (reason|sign)) |
        ((it|that|this) )?was not (it|that|the \w+) | wrong (guess|track|part|tree) |
        not the (culprit|cause|reason|one) | unsuccessful(ly)? | red herring | waste of \w+( \w+)? |
        (came|comes?) and (went|goes?)( again)? |
        (went|left)(,| and|, and| then| but)? (came|comes?) back |
        beyond (help|repair|hope|saving) | no better | takes? (just )?(as|that) long( as \w+)? |
        (the )?same (part|switch|fuse|resistor|place|spot|corner|can|chip)( \w+)? |
        second time( the same)? | flat as a \w+ | not a volts? | (lets|let) go | not enough |
        too (low|little|weak|late) | not (do|did|done) (a thing|anything|much|any good) |
        back for the \w+ time | will not (budge|move|stir) | (only|just) (for )?{span} | in vain |
        (off|down|out|bang|back) (it|she|he) (goes|went|came|comes)( to| from)?( (the|its) owner)? |
        there (it|she|he) goes (off )?again | blew (another|one more|the (new|next) one) |
        failed on the (first|second|third|fourth|fifth|\w+th) (start|try|go) | got faster |
        only \w+ volts | same again |
        nope | n\.? ?o\.? ?k\.? | nix | zilch | nada | negative | made (no|little) odds |
        back (to|at) (the |its )?(sleep|red|amber|stand-?by|zero|start|square|where|old|first|\
            same|beginning)\b[\w ]* |
        back (on|to|in|at) (my|the|our) (bench|shop|workshop|counter) |
        (brought|sent|took|bringing) (it|the set|him|her|this) back |
        (is|was|came|come|comes|returned?|returns|back) (back )?(again )?(after|within|in|with|\
            the next|on the) (just |only )?({span}|the (same|old) [\w ]+) |
        comes? back off | comes? back down | not (one |a )?bit better | no better | worse |
        (just |as )?(dead|dark|bad|badly|low|weak) as (it was|ever|before|a \w+) |
        (took|lost|ate|cost|killed|takes|blew|cooked|eats) (out )?(the |another |a |my |\
            one more )?(\w+ )?(new |second |third )?(fuse|one|part|mosfet|chip|switch|can|diode|\
            transistor|resistor)s?( (with it|too|as well|again))? |
        (gone|goes|went|go) (up in smoke|bang|pop|together|too|as well|with it) | gives? up |
        gave up | giving up | lasted (\w+ )*{long} | even less( \w+)? |
        no (higher|brighter|stronger|steadier|wiser) | once (more )?(black|dark|dead) |
        never again | kick in(?= again) | (re)?main(s|ed)? without life |
        without (any )?(sign of )?life | no (sign of )?life | as \w+ as ever | just sits( there)? |
        not (a |one )?(sign|thing|peep out of it|sausage)(?! of) |
        no (reaction|response)(?! to)( \w+)? | un(solved|cured|fixed|changed) | unhappy |
        identical |
        (sits|stays|remains|stands|is|hangs|stuck|waits) (on|in|at) (the )?(red|amber|orange|\
            stand-?by|stand by|logo|blue)( \w+)? |
        (second|third|fourth|fifth) (push|press|try|attempt)( again)? |
        (the |an? )?(step|point) (back|further away) |
        nothing (left|else|more) to (try|do|be done) | innocent | not guilty | no different |
        stays? down | stayed down | that is that(?= ?$) | money (thrown away|wasted|gone) |
        relay in, relay out |
        (draws|takes) [\d.]+ ?m?a and (climbs?|climbing|rises|rising) |
        went the (same )?way of [\w ]+ | ticks? (twice as )?fast(er)?( than before)? |
        back within (the|an?|one|two) (hour|day|week|minute)s?( \w+)? |
        (back )?where (i|we) (started|began|were) | back to where \w+ (started|began) |
        the same old \w+ | same old \w+ | story goes on | nobody home | doornail( again)? |
        (will not|does not|did not) play ball | blew (up )?in my \w+ | like hell |
        click(, (and )?click)+ |
        ups?,? (and )?(\w+ )?(\w+ )?down\b(,? and so on)? |
        two steps back | (three|two|four) clicks and out |
        (picture|sound|light|rail|volts|lamp) (has |had )?(went|gone)( for good| away)? |
        there goes the (picture|sound|light|rail|fuse|lamp) |
        lived for (a|one|two|an) \w+ | falls? back to
        """,
    ),
    (
        Tag.HEDGE,
        r"""
        (the )?(ticking|clicking|pumping|pulsing) (got|gets|is|became) (slower|faster|quieter) |
        ticks? once( and that is it)? | (only )?restarted once | (the )?smell is gone(?= ?$) |
        only in the first \w+ | (could|might|may) be (cured|fixed|repaired|mended) |
        (part|one|it) (does|did) not fit |
        every (second|third|fourth|other) (time|try|go|start) |
        at the (third|fourth|fifth|tenth|last) (go|try|attempt) | (?<!not )(?<!never )failed once |
        needs? another \w+ |
        i think(?= ?$) | ^i think |
        customers? (did|has|does) not (come|call|collect|show up|turn up)\w* |
        wrong (part|one|type|value|can|chip)s? (came|sent|delivered|arrived) | back ?order(ed)? |
        (burn-in|soak|test|run-in|long run) (is |still )?(running|going on|in progress|under way) |
        at every (second|third|fourth|fifth|other) (try|attempt|start|go|push) |
        in the (left|right|upper|lower|top|bottom|middle) (half|third|part|corner|side) only |
        at (?!100)\d+ ?(%|per ?cent) |
        (could|can) not get (at|to|near) (it|them|the \w+) |
        fits? (badly|poorly|tightly|not quite)[\w, ]* | instead of (ten|five|\d+|twenty) |
        (only )?(works?|runs?|starts?) (only )?with (the|its) (back|cover|lid|panel) off |
        only works? with \w+[\w ]* |
        (rail|it|volts?) up from [\d.]+ ?v? to [\d.]+ ?v? | ^reads? as printed$ |
        (must|has to|have to|needs? to|should) be (tested|checked|watched|soaked|seen|tried|\
            measured)[\w ]* | (test )?not done( with)?( this one)?( yet)? | none the wiser |
        as good as it (will |ll )?gets? | no load connected( yet)? | that will be it |
        (sort|kind) of(?= ?$|[,.;]) | in a way | after a fashion | more or less | early days |
        up to a point | with (mine|his|hers|theirs|ours|yours)(?= |$|,) |
        (now |but )?(i|we|it|there) (now )?(have|has|is|got) (now )?(another|a new|a different|\
            a second)(?! (one|fuse|part|can|chip|board|picture))( \w+)? |
        half (cured|fixed|solved|repaired|mended) | (one|two|three|four) of (the )?(two|three|four|\
            five|six) \w+ |
        a (bit|little|shade|touch|trifle)(?! (red|green)) | (some|every) other \w+ |
        not (yet|tried|tested|sure|clear(?! ?$)|powered|measured|checked)( \w+)? |
        could not (tell|say|test|try|see|check) | can ?not (say|tell) | hard to (say|tell) |
        too early | wait and see | have to wait | will (see|look|know) | to be seen | tomorrow |
        on (the )?soak | left (running|on) | on order | waiting for | interrupted | ran out of |
        so far(?! as) | for now | for the moment | held for | lets see |
        (different|another|new) (fault|trouble|symptom)\w*( now)? | moved to |
        other (half|side|fault) | to be \w+ed | once (yes|no|good|bad) | now and (then|again) |
        on and off | hit and miss | {count} (\w+ )?(times? )?out of \w+ | one time in \w+ |
        (cure[sd]?|help(s|ed)?|fixe[sd]) (it )?for {span} | ha(s|ve) not (come|been) back(?! to) |
        for a minute | ({span} )?longer( than (before|it did)) | works until |
        on one (side|half)( only)? | one (side|half)(?= only) |
        half of (them|it) | only without (a |the )?load | without (a |the )?load only |
        (runs?|works?|fine|good) (when |while )?cold$ | given back$ |
        starts? after (a|one|two|some) (minutes?|while) |
        half (the |of the )?(brightness|light|volume) | some light |
        some sound | fault finding |
        straight from the car |
        needs? \w+ (goes|tries|attempts|pushes) |
        (a|one) (half|side) (is )?(lit|bright|light|dark) |
        (a )?sign of life(?=,|:) | fault follows? | follows the part | no idea |
        one back(?= ?$) | hesitat(es|ed|ing) | sits? there | quiet as a grave |
        for a (while|bit|time)(?! ?now) | (stays?|stayed|remains?) at(?= \d)
        """,
    ),
    (
        Tag.BRIEF,
        r"""
        for (just |only )?(a|one|half a|two|a split) (short |brief |split )?(seconds?|moment|\
            instant|blink|flash) |
        (lights?|flash(es|ed)?|blinks?|comes? on|picture|light) (up )?(briefly|once)(?= and|\
             then|,|$)
        """,
    ),
    (
        Tag.NONE,
        r"""
        no longer | no more(?= \w) | not even | not once | never once | not (a|one) single |
        not an? | not one | neither | nor | no way( to)? | free of | rid of | nothing of |
        can ?not | no need for | no sign of | nowhere near | not any | no hint of | no trace of
        """,
    ),
    (
        Tag.ENDED,
        r"""
        (is |now )?(an?|one) (half|third|tenth|fraction|hundredth) of what it was | no more(?! \w) |
        died (down|away|with) | dies (down|away) | fad(ed|es) away | (has |have )?left(?= the) |
        went away | goes away | go away | gone away | stay(s|ed)? away | cleared up |
        part of history | a thing of the past | put (an end )?to rest
        """,
    ),
    (
        Tag.STILL,
        r"""
        (just |exactly |all |much )?(the )?(very )?same( (thing|symptom|fault|way|issue|\
            problem|complaint))?( as (before|\
            ever|always))? | as found |
        (just |exactly )?(like|as) (it )?(before|ever|always|did|it did|it was|was|(much|long|\
            bad|\w+) as before|usual)( the (repair|change))? |
        (goes|go|going|went|carries|carry|keeps|ticks merrily) on(?= \w+ing) |
        (keep|keeps|kept) (on )?(?=\w) | all the same
        """,
    ),
    (
        Tag.GOOD,
        r"""
        (it|this|that|here) (is|was) (the|our) (culprit|cause|reason|villain|offender) |
        ^it was this( one)?$ |
        becomes? on | stays? (powered( up| on)?|up)(?=$| ?[,.;]) |
        (stay|remain|keep|come|go|turn|switch)(s|ed)? on(?=$| ?[,.;]| (now|at once|each|every|in|\
            as (always|usual|it (should|always did|used to))|for|with|again|beyond|immediately|\
            straight|till|until|after)) |
        ^on(?=$| (since|for|all|again|at|now)) | ^off and on |
        (came|set|is|went|been|days?|hours?|evening|night) on(?=$| ?[,.;]| (now|at once|each|\
            every|for|again|immediately|straight|test|since)) |
        (stay|remain|pull|drop|come)(s|ed)? in(?=$| ?[,.;]| (now|again|at once)) |
        (lights?|comes?|came|gets?|springs?|fires?|power(?:s|ed)?|starts?|climbs?|goes|gone|boots?)\
             (straight |right )?up |
        (comes?|came|gets?|got|is|wakes?|woke) out of (stand-?by|protect(ion)?) |
        out of stand-?by (at last|now) |
        boots? through | (went|goes) all (day|night|evening|week) |
        full (brightness|volume|light) |
        (cold |warm )?starts? (with)?in (under |less than )?(a|one|two|three|\d) seconds? |
        (kick|set)s? in | pops? (straight |right )?up |
        jump(s|ed) (straight )?(back|up|to(?= \d))( to)? |
        (tubes?|lamps?|lights?) (all )?burns? | carr(y|ies|ied) on(?! \w+ing) | wakes? up |
        all (well|good|fine|right|there) | in order | stay(s|ed)? cool | stay(s|ed)? cold |
        hand ?warm | lukewarm | in (under )?(a|one|two|three) seconds?(?=$| ?[,.;])
        """,
    ),
    (
        Tag.BAD,
        r"""
        (ripple|esr) (is )?(still |too )?high | ^only (with|when|if|after|while) [\w ]+ |
        becomes? off | tak( tak)+ | switching( itself)? (on and off|off and on) |
        (goes|go|going|gone|went|cut|cuts|cutting|turn|turns|turned|drops?|dropped|drop|\
            switch(es|ed)?|fell|falls|knocks?|is|are|was|out) (itself )?(off|out|dark|dead) |
        (drop|cut|black|brown)[- ]?(out|off)s? | (volts?|rails?) (is |are )?(still )?wrong |
        (drops?|dropped|falls?|fell|goes|went) back to (stand-?by|sleep|red) |
        shut(s|ting)?[- ]?downs? |
        shut(s|ting)? (itself )?(down|off) | switch(es|ing)? (itself )?off |
        drags?( it| them)?( down)? | dragged( down)? | pull(s|ed)? (it |them )?down |
        (fuse|f\d+) (goes|went)(?! in) | (the )?same (fault|error|blink) code |
        (relay|contactor|speaker)s? (is |are )?(still|stays?|stayed|remains?) (silent|quiet|mute) |
        (work|run|play|h[eo]ld|start)(s|ed)? for (the|my|our) (test|trial|bench)( \w+)? only |
        (power|turn|go|come)(s|ing)? on and off |
        (still )?only (starts?|works?|runs?|comes?)( on)? (when|with|if|after|warm|cold|once) |
        after (press|push|try|tapp|switch|plugg)ing( it| the \w+)? (two|three|four|five|six|\
            ten|twenty|\d+|several|many|a dozen) times | ^(it (is|was) )?out(?=$) |
        (starts?|works?|runs?|comes?)( on)? only (when|with|if|after|warm|cold|once)( \w+)? |
        (runs?|works?|holds?|stays?|plays?|fine|good)( on)? (only )?until it (is|gets) \w+ |
        (runs?|works?) rough |
        takes (several|ten|many|five|\d+) \w+ |
        (several|many|two|three|some) (tries|attempts|pushes) | no 5 ?v still |
        (must|has to|needs to|have to) be \w+ |
        (two|three|four|five|six|seven|eight|nine|ten|\d+) blinks | blink code | error code |
        burn(t|ed)( \w+)? | red hot | too hot | ten minutes to start | half lit | breaks? down |
        broke down | out(?= (again|after|within|once more)) |
        the least (knock|tap|touch|push) and it goes |
        and it is gone again |
        relaps(e|es|ed) | dud | draws too much | (red|orange|amber) light only |
        takes (ages|for ever|forever) to \w+ |
        (plays|runs|works) for (a|one|two|some) (minutes?|seconds?|while) and \w+ |
        left on (\w+ )?overnight, (dead|dark|off|gone)( in the morning)? |
        cost (me )?(another|a|the) (new )?(\w+) | and with it the [\w ]+
        """,
    ),
    (
        Tag.THING,
        r"""
        (the |a )?(red|amber|orange|standby) (light|lamp|led|dot)
        """,
    ),
    (
        Tag.THEN,
        r"""
        and then | then | until | till | before it | afterwards | later | on the (second|third)
        """,
    ),
)
