"""Words in a result that say nothing of the set: people, places, times, tools, parts, points.

A clause that holds a word of no list at all is not understood, whatever else stands in it
(outcome_clauses); so what is harmless has to be known as well as what counts.
"""

from __future__ import annotations

from loose_rail.app.job_file.log.outcome_tags import Tag

NEUTRAL: tuple[tuple[Tag, str], ...] = (
    (
        Tag.SMALL,
        r"""
        (the )?(customer|owner|wife|husband|neighbour|friend|boss|lady|lad|family) (came|comes|\
            called|calls?|went|goes|said|says) |
        customers? | owners? | psu | cabinet | update | edit |
        wife | husband | son | daughter | kids? | child(ren)? | mother |
        father | neighbours? | friends? | lad | boss | apprentice | colleague | technician | man |
        woman | people | family | lady | gentleman | someone | somebody | nobody | everyone |
        me | us | our | their | your | his | its own | mine | yours | myself | themselves |
        television | device | appliance | behaviou?r | nominal | another(?= \w) | e\d+ | final |
        room | house | home | shop | bench | workshop | garage | kitchen | table | sofa | shelf |
        floor | window | door | wall | corner | stairs? | street | car | van | fridge | freezer |
        oven | sun | breakfast | lunch | dinner | supper | tea | coffee | kettle | today |
        yesterday | tomorrow | tonight | monday | tuesday | wednesday | thursday | friday |
        saturday | sunday | weekend | january | february | march | april | may | june | july |
        august | september | october | november | december | spring | summer | autumn | winter |
        mornings? | evenings? | noon | midnight | clock | hour | o.clock | overnight | later on |
        sooner | yet | ago | already | meanwhile | between | before | behind | beside | besides |
        near | next to | past | into | onto | off(?= the) | against | along | inside | outside |
        front | back(?= (of|cover|panel|on|off)) | top | bottom | middle | edge | width | rows? |
        seven | eight | nine | eleven | twelve | fifteen | twenty | thirty | forty | fifty |
        sixty | hundred | thousand | dozen | fourth | fifth | twice | thrice | single | pair |
        couple | few | several | half | quarter | double | big | small | little | large | tiny |
        thick | thin | tall | short(?= (time|while)) | high(?= side) | outer | inner | slightest |
        again and again | anything | something | thing | things | either | neither(?= end) |
        though | however |
        although | because | therefore | instead | same(?= (way|time|day|type|value|part)) |
        touch\w* | try | tries | tried | trying | test(s|ed|ing|er)? | check(s|ed|ing)? |
        measur\w+ | read(s|ing|ings)? | see | seen | saw | sees | hear | heard | feel | felt |
        look(ed|ing) | watch(ed|ing)? | wait(s|ed|ing)? | use[ds]? | using | take[ns]? | took |
        tak(es|ing) | put(s|ting)? | giv(e|es|en|ing) | gave | keep(ing)? | leav(e|ing) |
        turn(s|ed|ing)? | switch(ed|ing) | press(ed|ing) | pull(s|ed|ing)? | plug(s|ged|ging)? |
        plug\. | unplug\w* | fit(s|ted|ting)? | sold | buy | bought | order(ed|s)? | collect(ed)? |
        fetch(ed)? | carried(?= it) | mov(e|ed|ing)(?= it) | lift(s|ed|ing)? | hold(?= a) |
        apply | applied | add(s|ed|ing)? | join(s|ed)? | bridged? | jumper(s|ed)? | tied |
        held(?= by) |
        warm(ed|s|ing|th)? | cool(s|ed|ing|er)?(?! down) | degrees? | room temperature |
        bulbs? | lamps? | limiter | inrush | torch | dimming | brightness | covers? | speakers? |
        keys? | buttons? | tuner | antenna | aerial | inputs? | outputs? | hdmi | usb | sockets? |
        jack | connectors? | pins? | pads? | legs? | leads? | wires? | ribbons? | cords? | cables |
        joints? | solder\w* | flux | tracks? | coil | choke | parts? | pieces? | resistors? |
        capacitors? | caps? | diodes? | rectifiers? | transistors? | fets? | mosfets? | switches |
        bridge | varistor | suppressor | thermistor | ceramics? | zener | coupler | regulator |
        controllers? | electrolytics? | esr | uf | nf | pf | ohms? | k | amps? | watts? | volts? |
        drain | source | gate | base | emitter | anode | cathode | cable | strings? |
        rails? | bulk | line | lines(?= of) | row | jig | tester | meter | probes? | clamp |
        spare | scenes? | film | music | speech | news | programme | search | rhythm | speed |
        current | draws?(?= [\d.]+ ?m?a) | series | hand | forward | backward | ways |
        coming | being | having | doing | going | done(?! for) | idea | may | might | must |
        shall | should | like(?= (a|the)) | alone | rcd | dims?(?= and) |
        keeps? | kept | sign | signal | result | beyond | sooner | rock | magic | away | thank |
        fast | back(?= cover) | turned(?= (on|over|round)) | into place | by hand |
        hard(?= (as|hit|knock)) |
        l | n | g | gnd | d-s | g-s | d-s-g | ac\d? | [a-z]{1,3}\d{1,4}[a-z]? |
        \d+v\d* | \d+[kr]\d* | \w*(vsb|vs|sb) | ps.on | step-?down | step-?up
        """,
    ),
)
