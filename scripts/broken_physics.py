"""Ways to break what instruments, protection, reasons and sizing rest on."""

from typing import Final

from scripts.broken import Break

BREAKS: Final = (
    Break(
        "a clamp goes by which end was drawn first",
        "wiretrace/instruments/clamp_meter.py",
        "found[tied] = 1 if enters else -1",
        "found[tied] = 1",
        "tests/core/test_measures.py",
    ),
    Break(
        "an insulation monitor measures with one polarity",
        "wiretrace/catalogue/protection/insulation_monitor.py",
        'emf_dc_v=-self.FEEDS_V if state["turned"] else self.FEEDS_V',
        "emf_dc_v=self.FEEDS_V",
        "tests/core/test_insulation_monitor.py",
    ),
    Break(
        "a saturated coil follows its last look",
        "wiretrace/catalogue/machinery/coils.py",
        "        nearer = (low + high) / 2\n",
        "        nearer = (wanted + iron) / 2\n",
        "tests/core/test_saturation.py",
    ),
    Break(
        "a phase monitor has no hysteresis",
        "wiretrace/catalogue/protection/monitor.py",
        "(hysteresis if finding in held else 0.0)",
        "0.0",
        "tests/core/test_lost_phases.py",
    ),
    Break(
        "an insulation test is refused at a contact too",
        "wiretrace/catalogue/machinery/device.py",
        "if one.name not in contacts)",
        ")",
        "tests/core/test_testers.py",
    ),
    Break(
        "a dead pole feeds a motor",
        "wiretrace/explain/device.py",
        "(gives_none if way.path.nodes[-1] in dead else feeds).append(told)",
        "feeds.append(told)",
        "tests/core/test_reasons_judged.py",
    ),
    Break(
        "a cable in North America goes by the nameplate",
        "wiretrace/sizing/ampacity.py",
        "return sheet.branch_a * 1.25",
        "return sheet.motor_a * 1.25",
        "tests/core/test_american.py",
    ),
    Break(
        "a fault in a single phase goes one way",
        "wiretrace/sizing/conductors.py",
        "ways = 2.0 if plate.single_phase else 1.0",
        "ways = 1.0",
        "tests/core/test_sizing_single_phase.py",
    ),
    Break(
        "a status of an earlier release is lost",
        "wiretrace/catalogue/machinery/status.py",
        "_FORMER.get(part, coded(part))",
        "coded(part)",
        "tests/core/test_status.py",
    ),
    Break(
        "a fault is called confirmed without a confirming reading",
        "wiretrace/diagnosis/advise.py",
        "bool(made) and share >= SURE",
        "bool(made)",
        "tests/core/test_slips.py",
    ),
    Break(
        "what was observed first weighs most",
        "wiretrace/diagnosis/advise.py",
        "misses = counts @ ~fits",
        "misses = counts[:2] @ ~fits[:2]",
        "tests/core/test_slips.py",
    ),
)
