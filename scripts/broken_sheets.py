"""Ways to break what sheets ask for, what counts as proved, and what comes to rest behind bad joints."""

from typing import Final

from scripts.broken import Break

CURRENTS: Final = "tests/core/test_currents.py"
CARE: Final = "tests/server/test_exercise_care.py"

BREAKS: Final = (
    Break(
        "a current may be off by as much as one likes",
        "wiretrace/training/prediction/currents.py",
        "off = max(LEAST_A, share * amperes)",
        "off = 100.0",
        CURRENTS,
    ),
    Break(
        "what a faulty circuit shows is what a sound one does",
        "wiretrace/training/prediction/models.py",
        "return (self.drawn, states_of(self.sheet, self.drawn)) if self.sheet.faults else None",
        "return (self.assembly, self.frames) if self.sheet.faults else None",
        CURRENTS,
    ),
    Break(
        "whoever fills a sheet in reads what its maker would measure",
        "server/subjects/predictions/routes.py",
        'update={"next": "", ',
        "update={",
        "tests/server/test_prediction_sheets.py",
    ),
    Break(
        "a transformer begins its inrush anew where that takes its voltage away",
        "wiretrace/catalogue/supply/transformer.py",
        "return stage < len(self.SATURATED) and flows",
        "return False",
        "tests/core/test_transformer.py",
    ),
    Break(
        "a sensor looks for volts that are not there",
        "wiretrace/catalogue/command/sensors.py",
        "stiff = last > 0 and abs(volts - last) < self.STIFF * last",
        "stiff = False",
        "tests/core/test_truth.py -k two_wire",
    ),
    Break(
        "a converter takes in what it gave at another voltage",
        "wiretrace/catalogue/motors/converter_figures.py",
        "max(given_at_v, 1.0) ** 2",
        "max(volts, 1.0) ** 2",
        "tests/core/test_bad_joints_before.py",
    ),
    Break(
        "a voltage that was read before proves nothing",
        "wiretrace/training/exercise/risks.py",
        "    if _pair(step.red, step.black) in care.live:\n        return True\n",
        "",
        CARE,
    ),
    Break(
        "a review says that no reading was needed wherever it knows none",
        "server/subjects/exercises/routes.py",
        "none_needed=best == (),",
        "none_needed=not best,",
        CARE,
    ),
    Break(
        "of two hidden faults none is taken for another",
        "wiretrace/training/exercise/answers.py",
        "(one for one in hidden if _alike(sound, one, named, halts))",
        "(one for one in hidden[:1] if _alike(sound, one, named, halts))",
        "tests/core/test_exercise.py",
    ),
    Break(
        "what lies in two ranges of a fault counts twice",
        "wiretrace/diagnosis/bits.py",
        "begins = np.maximum(begins, np.concatenate([[0], so_far[:-1]]) - span)",
        "begins = begins + 0 * so_far",
        "tests/core/test_bits.py",
    ),
    Break(
        "a fault is found by half of the words",
        "web/src/common/named.ts",
        "most === words.length - 1",
        "most >= words.length / 2 - 1",
        "src/common/named.test.ts",
    ),
    Break(
        "a heading may stand alone at the foot of a page",
        "wiretrace/interchange/paper.py",
        '.clone("head", keepWithNext=1)',
        "",
        "tests/core/test_lettering.py",
    ),
)
