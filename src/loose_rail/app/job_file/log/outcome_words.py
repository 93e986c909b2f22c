"""Single words by which people say what came of a deed, with what each says of the set.

A word with `~` stands for its forms as a verb: tick, ticks, ticked, ticking.
"""

from __future__ import annotations

from loose_rail.app.job_file.log.outcome_tags import Tag

WORDS: tuple[tuple[Tag, str], ...] = (
    (
        Tag.HEDGE,
        r"""
        somewhat | partly | perhaps | maybe | possibly | improve[sd]? | improvement | better |
        less | rarer | weaker | slower | quieter | softer | fewer | milder | fainter | later |
        promising | inconclusive | unproved | probably | apparently | hopefully | half-?way |
        seldom | rarely | unclear | unsure | if | unless | sometimes | mostly | often | dim |
        dimmer | shorter | longer | brighter | seems? | almost | nearly | occasionally |
        intermittent(ly)? | usually | hm+ | partial(ly)?
        """,
    ),
    (
        Tag.GOOD,
        r"""
        work~ | run~ | play~ | start~ | wake~ | light~ | boot~ | hold~ | behave~ | survive~ |
        recover~ | carry~ | help~ | pass~ | live~ | settle~ | respond~ | thrive~ | purr~ |
        function~ | operate~ | oblige~ | cooperate~ | perform~ | obey~ | react~ | succeed~ |
        appear~ | fire~ | regulate~ | stabilise~ | stabilize~ | conduct~ | charge~ | deliver~ |
        crisp | loud | instant | ready | usable | great | excellent | brilliant | super |
        flawless(ly)? | faultless(ly)? | spotless | lovely | nice(ly)? | beautiful(ly)? |
        proper(ly)? | sane | tidy | as new | plain | strong | full | responsive | undisturbed |
        unbroken | true | stays put | constant(ly)?(?= \d) | confirmed | verified | satisfactory |
        harmless | colours? | video | signal | splash | programmes? | channels? | spark of life |
        ran | held | woke | woken | lit | glows? | glowing | carries | carried | strikes? | struck |
        fine | firm | firmly | enough | ok | okay | steady | steadily | stable | stably | bright |
        brightly | silent | silence | quiet | quietly | calm | well | normal | normally | good |
        perfect | perfectly | healthy | correct | correctly | right | solid | reliabl\w+ | even |
        evenly | clear | clean | cleanly | alive | intact | whole | up | picture | pictures |
        image | sound | light | lights | backlight | menu | channel | volume | desktop | logo |
        restored | voice | positive | vision | boost | smooth(ly)? | sharp | awake | living |
        life | free | instantly
        """,
    ),
    (
        Tag.BAD,
        r"""
        tick~ | clicking | blink~ | hop~ | pump~ | pulse~ | flicker~ | hum~ | hiccup~ | buzz~ |
        whistle~ | chirp~ | whine~ | squeal~ | crackle~ | stutter~ | chatter~ | rattle~ | trip~ |
        restart~ | reboot~ | protect~ | collapse~ | sag~ | sink~ | dip~ | fade~ | loop~ | spark~ |
        smoke~ | leak~ | pop~ | bang~ | arc~ | fail~ | freeze~ | struggle~ | burn~ | hang~ |
        misbehave~ | flash~ | drop~ | refuse~ | blow~ | lose~ | need~ | cook~ | short~ | crack~ |
        crash~ | char~ | latch~ | kill~ | delay~ | stall~ | jam~ | vary~ | drift~ | falter~ |
        drop-?outs? |
        misfire~ | twitch~ | pulsate~ | throb~ | oscillate~ | howl~ | sing~ | sizzle~ | fizz~ |
        glitch~ | wobble~ | shimmer~ | strobe~ | shudder~ | jitter~ | bounce~ | explode~ | vent~ |
        melt~ | fold~ | flare~ | hunt~ | deader |
        scorch~ | overheat~ | roast~ | fry~ | toast~ | crumble~ | decline~ | ignore~ |
        suffer~ | deny~ | bail~ | bother~ | plague~ | annoy~ | cycle~ | toggle~ | surge~ | spit~ |
        fries | fried | denies | denied | varies | varied | sang | flat | pink | tinge | shadow |
        shadows | shade | stripes? | lines?(?= (across|on|in|are|still|gone|remain)) | streaks? |
        patch(es)? | spots? | ghosts? | snow | distorted | garbled | mute | kaput+ | defunct |
        lifeless | comatose | useless | hopeless | pointless | broken | goner | toast | unwell |
        sick | ill | lame | limp | tired | dull | gloomy | pitch black | deaf | unresponsive |
        inert | unhappy | erratic | flaky | shaky | nervous | restless | noisy | stink\w* | stank |
        odou?rs? | fumes? | scorched | crater | hole | swollen | ruptured | spattered | excess\w* |
        short(?= (is|to|on|across|has|between|remains?|gone|still|cleared|persists?)\b) |
        fuss | recalls? | recalled | overvoltage | brown-?out | nuisance | misery |
        defects? | delays? | lag | hiccough\w* | murmurs? | machine-?guns? | morse | kicks?(?! in) |
        wails? | grumbl\w+ | lockouts? | lock(s|ed) up | conks? | conked | expir\w+ | perish\w* |
        cuts | clicking | dead | dark | black | darkness | blackness | off | blew | blown | sank |
        sunk | stuck | asleep | sleeps? | low | lower | hot | hotter | soft | softly | froze |
        frozen | hung | loops? | noises? | faults? | troubles? | problems? | complaints? | errors? |
        failures? | issues? |
        smells? | symptoms? | bars? | blips? | hitch | tremors? | tremble~ | waver~ |
        breaks? | gaps? | stops?(?= (again|after|working)) | bulged? | domed | faulty | bad |
        badly |
        reset(?= needed) | overload\w* | protection | protections | zero | stronger | culprit |
        recur\w* | reappear~ | events? | incidents? | overcurrent |
        goes bad | e\d+(?= persists) |
        missing | absent | gone dark | droops? | drooping | ripple | shutdowns? | jump(s|ing|ed)? |
        wander(s|ing|ed)? | sparks? | smoked | unstable | wobbl\w+ | swings? | swinging | worn |
        weak | lasted
        """,
    ),
    (
        Tag.CURES,
        r"""
        cure~ | fix~ | repair~ | solve~ | heal~ | mend~ | sort~ | fixes | rids?
        """,
    ),
    (
        Tag.WEAK,
        r"""
        occurs? | occurred | there | present | stands? | stays? | stayed | back | at once |
        as soon as | remains? |
        comes? | came | remained | arrives? | exists? | sits? | rises? | rose | climbs? | returns? |
        returned | come | stay | stand | return | reaches | reach | yes
        """,
    ),
    (
        Tag.NONE,
        r"""
        no | not | never | without | hardly | barely | longer(?= \w+s\b)
        """,
    ),
    (
        Tag.NOTHING,
        r"""
        nothing | none | nil | neither one
        """,
    ),
    (
        Tag.ENDED,
        r"""
        gone | finished | cleared | over(?=$| now) |
        ended | ends?(?=$| now) | inaudible | invisible | vanish\w* |
        disappear\w* | ceased? | goes(?=$) | went(?=$) | ceases | history | (?<!ing )away | ending |
        unnoticeable | released | banished | beaten | dealt with
        """,
    ),
    (
        Tag.DIED,
        r"""
        die[sd]? | dying | stop(s|ped|ping)? | quits? | quitting
        """,
    ),
    (
        Tag.STILL,
        r"""
        still | continuous(ly)? | unchanged |
        persists? | persisted | continues? | endlessly | constantly |
        unaltered
        """,
    ),
    (
        Tag.AGAIN,
        r"""
        again | anew
        """,
    ),
    (
        Tag.CHANGE,
        r"""
        changes? | changed | difference | effect | influence | move[sd]? | happens? | happened |
        new | gained? | reaction | response | budge | altered | alters? | else | reacts? |
        matters?
        """,
    ),
    (
        Tag.THING,
        r"""
        \d+([.,]\d+)? ?(m|k)?v\b | rails? | volts? | voltages? | fuses? | breaker | relay | bulk |
        pfc | vs | va | vsus | standby | dot | clicks? | line | lines |
        (cn|con|jp|xp|p|j)\w?\d+(-\d+)? | half | halves | led | lamp | ps-?on |
        \d+([.,]\d+)? ?(k|m|g)?(ohms?|r|k)\b | (?<![\d.])0(?![\d.])
        """,
    ),
    (
        Tag.SMALL,
        r"""
        an? | the | it | its | he | she | they | we | i | you | my | set | tv | monitor | telly |
        screen | panel | unit | board | says? | is | are | was | were | be |
        been | being | has | have | had | does | do | did | will | would | can | could | gets? |
        got | goes | go | went | looks? | shows? | show | shown | showed | itself | now | just |
        only | at | once | on | in | out | of | to | for | from | with | by | and | or | as | that |
        this | these | all | both | each | every | time | times | first | second | third | last |
        any | some | such | so | too | also | very | quite | really | ever | since | after |
        within | during | under | over(?= \w) | upper | lower | left | side | corner | corners |
        everything | rest | new | old | one | two | three | four | five | six | ten | red | green |
        white | blue | amber | orange | remote | main | cable | tubes? | strips? | driver |
        transformers? | test | full | whole | cold | warm | load | loaded | dummy | button | push |
        press | key | straight | immediately | directly | finally | at last | completely | totally |
        altogether | more | much | many | way | make | makes | making |
        made | get | bring | brings |
        brought | further | put | drive | sides? | them | him | her | down | through | across |
        when | while | where | what | asked | mark | always | am | cans? | connected | plugged |
        switch(?!es) | rail(?= to) | ground | power | own | long | least | most | about | around |
        nearly(?= \d) | ma | a(?=$) | w | hz | mv | stronger(?=$) | phoned? | counts? | rang |
        clicks | other | level | print | printed | case | knock\w* | tap\w* | wiggl\w+ | twist\w* |
        heat\w* | hit | bend | flex\w* | provoke | likes? | there(?= (is|are|was)) | merrily |
        even(?= (when|with|after|if|cold|at|the|now|from|straight)) | far | \w+ly | \d[\d.,]* |
        {long} | moment | film | use | minutes? | seconds? | h | s | min | started(?= with) |
        any ?more | whatsoever | whatever | light(?= load) | lamp load | corner to corner | supply |
        mosfet | chip | heatsink |
        [a-z\d][\w./+-]*(?= (is |at |now |still |reads )?\d+([.,]\d+)? ?m?v\b) | together |
        somehow | afternoon | than | which | who | how | next
        """,
    ),
)
