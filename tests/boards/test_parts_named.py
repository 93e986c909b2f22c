"""Parts as people name them: phrases and what they mean, written before the namer was asked.

“-” stands for none: a part that this board does not have is not booked on the nearest one. Where a
phrase means several parts they are all named, in any order.
"""

import unittest

from loose_rail.boards.own.board import own_board
from loose_rail.boards.own.make_up import OwnBoard, OwnConnector
from loose_rail.boards.parts_named import parts_named
from loose_rail.boards.profile import Board

RESONANT_LED = """
fuse = main fuse
the mains fuse = main fuse
primary fuse = main fuse
line filter = mains choke
line filter choke = mains choke
common mode choke = mains choke
mains filter coil = mains choke
NTC = inrush limiter
inrush thermistor = inrush limiter
MOV = varistor (MOV)
surge suppressor = varistor (MOV)
blue disc varistor at the inlet = varistor (MOV)
X cap = X2 suppression capacitor
X2 = X2 suppression capacitor
Y cap = Y1 capacitor across the barrier
rectifier block = bridge rectifier
diode bridge = bridge rectifier
bulk cap = bulk capacitor
the big cap = bulk capacitor
big electrolytic = bulk capacitor
primary capacitor = bulk capacitor
primary filter capacitor = bulk capacitor
hot side capacitor = bulk capacitor
450 V capacitor = bulk capacitor
mains capacitor = bulk capacitor
standby PWM chip = standby controller
standby IC = standby controller
standby supply chip = standby controller
VCC cap = standby controller supply capacitor, main controller supply capacitor
VCC capacitor of the standby chip = standby controller supply capacitor
supply capacitor of the standby IC = standby controller supply capacitor
standby MOSFET = standby switch
standby FET = standby switch
source resistor of the standby switch = source sense resistor
standby gate resistor = standby gate resistor
start resistors = standby start-up resistor 1, standby start-up resistor 2
first start resistor = standby start-up resistor 1
second start resistor = standby start-up resistor 2
the other start resistor = standby start-up resistor 2
standby opto = standby feedback optocoupler
feedback coupler of the standby supply = standby feedback optocoupler
start coupler = PS-ON optocoupler
power-on opto = PS-ON optocoupler
on/off optocoupler = PS-ON optocoupler
PS-ON coupler, LED side = PS-ON optocoupler
main opto = main feedback optocoupler
12 V feedback coupler = main feedback optocoupler
5 V shunt reference = 5 V shunt regulator
431 of the 12 V = 12 V shunt regulator
standby QX431 = 5 V shunt regulator
5V cap = 5 V reservoir
5 V output capacitor = 5 V reservoir
5V filter cap = 5 V reservoir
standby output capacitor = 5 V reservoir
5 volt electrolytic = 5 V reservoir
12V caps = 12 V reservoir
24V output cap = 24 V reservoir
5 V schottky = 5 V rectifier
12V diodes = 12 V rectifier, 12 V rectifier other half
upper divider of the 5 V = standby rail 5 V feedback divider upper
lower divider resistor, 12 V = main rail 12 V feedback divider lower
LLC mosfets = upper half-bridge switch, lower half-bridge switch
high-side switch = upper half-bridge switch
low side FET = lower half-bridge switch
LLC controller = main controller
resonant driver IC = main controller
LLC transformer = resonant transformer
main transformer = resonant transformer
resonant cap = resonant capacitor
transistor that switches the main VCC = supply switch of the main controller
VCC switch = supply switch of the main controller
backlight driver IC = LED driver chip
backlight controller = LED driver chip
LED driver = LED driver chip
backlight mosfet = LED boost switch
LED FET = LED boost switch
backlight diode = LED boost diode
backlight coil = LED boost choke
LED inductor = LED boost choke
LED output cap = LED output capacitor
LED boost switch gate resistor = LED driver gate resistor
gate resistor of the backlight FET = LED driver gate resistor
LED boost switch sense resistor = switch sense resistor
source resistor of the LED FET = switch sense resistor
backlight strips = LED strips
LED bars = LED strips
PFC coil = -
PFC diode = -
boost switch = LED boost switch
inverter transformer = -
tubes = -
18 V reservoir = -
snubber of the panel switch = -
relay = -
"""
TUBES = """
inverter transistors = inverter switch 1, inverter switch 2
inverter FETs = inverter switch 1, inverter switch 2
inverter transformer = inverter transformer
inverter IC = inverter chip
inverter fuse = inverter fuse
fuse of the inverter = inverter fuse
main fuse = main fuse
lamps = tubes in the panel
CCFL tubes = tubes in the panel
capacitor at the inverter feed = inverter feed capacitor
main MOSFET = main switch
source resistor of the main switch = main source sense resistor
24V diode = 24 V rectifier
clamp diode of the standby = standby clamp diode
snubber capacitor of the main supply = main clamp capacitor
LED driver = -
LED strip = -
resonant capacitor = -
"""
BOOST = """
PFC coil = boost choke
PFC diode = boost diode
PFC MOSFET = boost switch
PFC IC = boost controller
boost controller VCC cap = boost controller supply capacitor
PFC sense resistor = boost sense resistor
PFC gate resistor = boost gate resistor
first upper PFC divider resistor = boost feedback divider upper 1
film cap after the bridge = film capacitor behind the bridge
bypass diode = bypass diode
LED FET = LED boost switch
half-bridge FETs = upper half-bridge switch, lower half-bridge switch
"""
ADAPTER = """
adapter jack = adapter socket
DC jack = adapter socket
power jack = adapter socket
DC socket = adapter socket
input connector = adapter socket
input fuse = input fuse
fuse = input fuse
input TVS = TVS clamp
5 V buck IC = logic rail 5 V step-down chip
5V coil = logic rail 5 V step-down choke
input cap = socket input capacitor
5 V output cap = 5 V output capacitor
bulk capacitor = socket input capacitor
bridge rectifier = -
standby switch = -
"""


def _made(words: str, legend: str) -> Board:
    pins = tuple(legend.split(", "))
    return own_board(
        OwnBoard("own", words, "TV", (OwnConnector("CN1", 1, pins),), 230.0, "high")
    ).board


BOARDS = (
    (
        _made(
            "standby flyback 5 V, LLC 24 V and 12 V, LED driver on the board",
            "24V, GND, 12V, 12V, GND, 5VSB, PS-ON, BL-ON, DIM",
        ),
        RESONANT_LED,
    ),
    (
        _made(
            "standby flyback 5 V, main flyback 24 V and 12 V, CCFL inverter",
            "BL-ON, GND, 5VSB, GND, PS-ON, 12V, 12V, 24V, 24V",
        ),
        TUBES,
    ),
    (
        _made(
            "standby flyback 5 V, PFC, LLC 12 V and 24 V, LED driver",
            "PS-ON, 5VSB, GND, GND, 12V, 12V, 24V, 24V, BL-ON, DIM",
        ),
        BOOST,
    ),
    (
        _made(
            "fed by a 19 V adapter, step-down to 5 V and 3.3 V, LED driver",
            "5V, 5V, GND, GND, 3V3, EN, ADJ",
        ),
        ADAPTER,
    ),
)


class Named(unittest.TestCase):
    def test_phrases_mean_the_parts_that_a_person_means(self) -> None:
        for board, table in BOARDS:
            for line in table.strip().splitlines():
                text, _, meant = line.partition(" = ")
                wanted = set() if meant == "-" else set(meant.split(", "))
                with self.subTest(text=text):
                    self.assertEqual(set(parts_named(board, text)), wanted)


if __name__ == "__main__":
    unittest.main()
