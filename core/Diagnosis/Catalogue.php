<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/**
 * Every code of the fault catalogue: what it means to the pack's owner, the tests that tell it apart, and what would
 * overturn it. Signatures live in the engines, remedies in Repair\Options.
 */
final class Catalogue
{
    /** @var array<string, array{string, list<TestKind>, string}> plain words, tests, what would overturn it */
    private const ENTRIES = [
        'group.undercharged' => ['One part of the pack is emptier than the rest. It looks healthy otherwise.', [TestKind::RestAgain, TestKind::LoadStep, TestKind::CapacityGroup], 'it falls again on its own within days, sags more than its neighbours, or holds less'],
        'group.overcharged' => ['One part of the pack is fuller than the rest, so charging stops too early.', [TestKind::RestAgain, TestKind::CapacityGroup], 'its cells hold less than the others: a small group runs ahead in both directions'],
        'group.self-discharge' => ['One part of the pack loses charge by itself. It comes back after charging and sinks again.', [TestKind::RestAgain, TestKind::SenseUnpluggedRest, TestKind::Refill], 'it stays level over days, or sinks only with the sense plug in'],
        'group.low-capacity' => ['One part of the pack has aged and holds less. It decides how far the whole pack goes.', [TestKind::CapacityGroup, TestKind::FullDischargeWatch], 'a full charge and a logged discharge give what the others give'],
        'group.missing-cell' => ['A cell inside has come loose, so one part holds less and sags more.', [TestKind::TugWeld, TestKind::StripMillivolt, TestKind::CapacityGroup], 'every strip carries its share and every weld holds'],
        'group.high-resistance' => ['The cells of one part let less current through: it sags under load.', [TestKind::ResistanceCell, TestKind::LoadStep, TestKind::CapacityGroup], 'the cells measure normal by themselves: then it is the joint'],
        'joint.high-resistance' => ['A connection is loose or dirty: the pack sags there under load.', [TestKind::LoadStep, TestKind::ChargeStep, TestKind::Continuity], 'nothing drops across the joint itself, or cleaning and torque change nothing'],
        'group.deep-discharged' => ['One part of the pack was emptied too far. It may come back if it is brought up slowly.', [TestKind::RecoveryTrial, TestKind::RestAgain], 'it hangs or falls while a small current flows'],
        'group.dead' => ['One part of the pack is finished and is never revived.', [TestKind::GroupReading, TestKind::RecoveryTrial], 'a reading straight across it shows a voltage'],
        'group.reversed' => ['One part of the pack has been driven backwards. It is finished and dangerous to charge.', [TestKind::GroupReading], 'the probes were swapped'],
        'cell.swollen' => ['A cell has swollen. It is not worked on.', [], 'thickness measured against the drawing is within 3 %'],
        'cell.leaking' => ['A cell leaks or vents. It is not worked on.', [], 'what was seen came from outside'],
        'cell.hot' => ['It is warm with nothing connected. It is not worked on.', [], 'it was lying in the sun'],
        'bms.protecting' => ['The protection board has switched off because something is out of limits. That is its job.', [TestKind::RestTaps], 'every group is inside its limits and it still stays off'],
        'bms.latched' => ['The protection board is still switched off although the reason is gone.', [TestKind::Wake, TestKind::Continuity], 'nothing wakes it although the path is good'],
        'bms.asleep' => ['The protection board sleeps and wants to be woken.', [TestKind::Wake], 'its device wakes it and it dies again'],
        'bms.bleed-stuck' => ['The protection board drains one part of the pack all the time.', [TestKind::SenseUnpluggedRest], 'the group sinks with the plug out as well'],
        'bms.output-dead' => ['The protection board no longer lets current out.', [TestKind::Wake, TestKind::Continuity], 'voltage stands behind the board, or a wake action helps'],
        'bms.charge-dead' => ['The protection board no longer lets charge in.', [TestKind::ChargerCheck, TestKind::Sensor, TestKind::FullChargeWatch], 'another charger is taken, or the sensor is off its curve'],
        'bms.trips-early' => ['The protection board cuts out too soon.', [TestKind::LoadStep, TestKind::FullDischargeWatch], 'a group touches its limit at the moment of the cut'],
        'bms.limit-too-low' => ['The protection board is too small for this device.', [TestKind::FullDischargeWatch], 'the peak current is measured and lies under its rating'],
        'bms.no-overcharge-cut' => ['The protection board does not stop an overcharge. Not to be charged.', [TestKind::FullChargeWatch], 'the reading was taken with the board bypassed'],
        'bms.balance-insufficient' => ['The protection board cannot even out this difference by itself.', [], 'the difference is smaller once every group is full'],
        'bms.drain' => ['The protection board feeds from one end of the pack while it is stored.', [TestKind::SenseUnpluggedRest], 'the same groups sink with the sense plug out'],
        'sense.open' => ['A thin measuring wire inside is broken: the board sees what is not there.', [TestKind::BoardReport, TestKind::GroupReading], 'the meter straight across the groups shows the same'],
        'sense.shifted' => ['The measuring wires are on the wrong places. Nothing is plugged in like that.', [TestKind::PinCheck], 'the staircase is right pin by pin'],
        'path.fuse-open' => ['The fuse is open. The reason is found before a new one goes in.', [TestKind::Continuity], 'the fuse conducts'],
        'path.intermittent' => ['A contact fails when the pack is moved.', [TestKind::Flex], 'nothing changes however it is moved'],
        'path.switch-or-enable' => ['The key switch or its wire keeps the pack off.', [TestKind::Wake, TestKind::Continuity], 'the wire tied by hand changes nothing'],
        'path.connector' => ['A terminal is burnt or loose.', [TestKind::Continuity, TestKind::Flex], 'nothing drops across it under load'],
        'sensor.temperature' => ['The temperature sensor says something wrong, so the board refuses.', [TestKind::Sensor], 'it measures right against its curve'],
        'charger.wrong-voltage' => ['This charger gives the wrong voltage for this pack.', [TestKind::ChargerCheck], 'it measures right under load'],
        'charger.wrong-profile' => ['This charger is made for another kind of battery.', [TestKind::ChargerCheck], 'a logged charge shows constant current, constant voltage and nothing else'],
        'charger.outruns-balance' => ['This charger is faster than the pack can even itself out.', [TestKind::FullChargeWatch], 'the groups stay together to the taper'],
        'charger.dead' => ['The charger gives nothing.', [TestKind::ChargerCheck], 'it gives its voltage under load'],
        'load.shorted' => ['The device is shorted. It is mended before the pack goes back.', [TestKind::LoadCheck], 'the harness measures open'],
        'load.wiring' => ['A wire of the device is broken.', [TestKind::LoadCheck], 'the harness conducts'],
        'load.dead' => ['The device itself does not run.', [TestKind::LoadCheck], 'it runs on a good supply'],
        'load.exceeds-cells' => ['The device takes more current than these cells are made for.', [TestKind::LoadCheck], 'the controller\'s limit is lower than written'],
        'gauge.stale' => ['The charge display still believes an old figure.', [TestKind::GaugeRelearn, TestKind::CapacityPack], 'it agrees with a logged discharge'],
        'label.inconsistent' => ['The label does not add up.', [], 'the label was read wrongly'],
        'reading.inconsistent' => ['One reading does not fit the others and is taken again.', [TestKind::GroupReading, TestKind::HalfString], 'the repeated reading says the same'],
        'reading.phantom' => ['The voltage at the output only floats: nothing stands behind it.', [TestKind::LowImpedanceTerminal], 'it stands under a small load'],
        'pack.spread' => ['The parts of the pack are too far apart to be charged together.', [], 'each has been brought up singly'],
    ];

    /** What already was measured, by the test that measures it. */
    private const SEEN = [
        'rest' => [TestKind::RestTaps], 'leak' => [TestKind::RestAgain, TestKind::Refill], 'resistance' => [TestKind::LoadStep, TestKind::ChargeStep], 'capacity' => [TestKind::CapacityGroup],
        'weld' => [TestKind::TugWeld, TestKind::StripMillivolt], 'recovery' => [TestKind::RecoveryTrial], 'cells' => [TestKind::ResistanceCell], 'joint' => [TestKind::Continuity],
    ];

    private const BY_TEST = [
        'wake' => TestKind::Wake, 'continuity' => TestKind::Continuity, 'flex' => TestKind::Flex, 'sensor' => TestKind::Sensor, 'charger' => TestKind::ChargerCheck, 'load-check' => TestKind::LoadCheck,
        'pin-check' => TestKind::PinCheck, 'charge' => TestKind::FullChargeWatch, 'discharge' => TestKind::FullDischargeWatch, 'refill' => TestKind::Refill, 'tug-weld' => TestKind::TugWeld,
    ];

    /** @return list<string> */
    public static function codes(): array
    {
        return array_keys(self::ENTRIES);
    }

    /** For the person over the counter, without a figure. */
    public static function plain(string $code): string
    {
        return self::ENTRIES[$code][0] ?? '';
    }

    public static function overturn(string $code): string
    {
        return self::ENTRIES[$code][2] ?? '';
    }

    /**
     * Tests that would tell it apart and were not done yet.
     *
     * @param  list<string>  $features  measured about the place, as GroupEngine names them
     * @param  list<string>  $tests  kinds of test in the record
     * @return list<string> test names
     */
    public static function missing(string $code, array $features, array $tests): array
    {
        $done = array_merge(...array_map(fn (string $f): array => self::SEEN[$f] ?? [], $features ?: ['']));
        foreach ($tests as $kind) {
            if (isset(self::BY_TEST[$kind])) {
                $done[] = self::BY_TEST[$kind];
            }
        }

        return array_values(array_map(fn (TestKind $t): string => $t->value, array_filter(self::ENTRIES[$code][1] ?? [], fn (TestKind $t): bool => ! in_array($t, $done, true))));
    }
}
