<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Safety\SafetyState;

/** The closed set of tests that a verdict may ask for: minutes of hands, how deep it goes, what current it needs. */
enum TestKind: string
{
    case RestTaps = 'rest-taps';
    case GroupReading = 'group-reading';
    case HalfString = 'half-string';
    case RestAgain = 'rest-again';
    case SenseUnpluggedRest = 'sense-unplugged-rest';
    case Refill = 'refill';
    case LoadStep = 'load-step';
    case ChargeStep = 'charge-step';
    case RelaxingRead = 'relaxing-read';
    case LowImpedanceTerminal = 'low-impedance-terminal';
    case Wake = 'wake';
    case Continuity = 'continuity';
    case Flex = 'flex';
    case BoardReport = 'bms-report';
    case PinCheck = 'pin-check';
    case RecoveryTrial = 'recovery-trial';
    case FullChargeWatch = 'full-charge-watch';
    case FullDischargeWatch = 'full-discharge-watch';
    case CapacityGroup = 'capacity-group';
    case CapacityPack = 'capacity-pack';
    case ResistanceCell = 'resistance-cell';
    case StripMillivolt = 'strip-millivolt';
    case TugWeld = 'tug-weld';
    case ChargerCheck = 'charger-check';
    case LoadCheck = 'load-check';
    case Sensor = 'sensor';
    case GaugeRelearn = 'gauge-relearn';
    case Insulation = 'insulation';

    /** What the screens call it. */
    public function title(): string
    {
        return match ($this) {
            self::RestTaps => 'Read the groups at rest',
            self::GroupReading => 'Read one group directly',
            self::HalfString => 'Read one more stretch',
            self::RestAgain => 'Wait, then read again',
            self::SenseUnpluggedRest => 'Rest with the sense plug out',
            self::Refill => 'Refill and measure',
            self::LoadStep => 'Read under load',
            self::ChargeStep => 'Read on charge',
            self::RelaxingRead => 'Read while relaxing',
            self::LowImpedanceTerminal => 'Read the output at low impedance',
            self::Wake => 'Try to wake the board',
            self::Continuity => 'Check the current path',
            self::Flex => 'Move wires while reading',
            self::BoardReport => 'Read the board\'s report',
            self::PinCheck => 'Check the pins',
            self::RecoveryTrial => 'Try a small current',
            self::FullChargeWatch => 'Watch a full charge',
            self::FullDischargeWatch => 'Watch a full discharge',
            self::CapacityGroup => 'Measure a group\'s capacity',
            self::CapacityPack => 'Measure the pack\'s capacity',
            self::ResistanceCell => 'Measure a cell\'s resistance',
            self::StripMillivolt => 'Read the strips',
            self::TugWeld => 'Tug the welds',
            self::ChargerCheck => 'Check the charger',
            self::LoadCheck => 'Check device and harness',
            self::Sensor => 'Measure the sensor',
            self::GaugeRelearn => 'Teach the gauge',
            self::Insulation => 'Measure the insulation',
        };
    }

    /** The condition of the set that it adds to, when one of that condition was begun; null: it opens its own, or is no set. */
    public function continues(): ?Condition
    {
        return match ($this) {
            self::RestTaps, self::GroupReading, self::HalfString => Condition::Rest,
            default => null,
        };
    }

    /** The condition of the set of readings that it opens; null for what adds to a set or is no reading. */
    public function set(): ?Condition
    {
        return match ($this) {
            self::RestAgain, self::SenseUnpluggedRest, self::LowImpedanceTerminal => Condition::Rest,
            self::LoadStep => Condition::Discharge,
            self::ChargeStep => Condition::Charge,
            self::RelaxingRead => Condition::Relaxing,
            default => null,
        };
    }

    /** Minutes of hands, not of waiting. */
    public function minutes(): int
    {
        return match ($this) {
            self::GroupReading, self::HalfString, self::LowImpedanceTerminal, self::Flex, self::Insulation => 1,
            self::Wake => 2,
            self::Sensor, self::Continuity, self::ChargerCheck, self::RelaxingRead, self::TugWeld => 3,
            self::RestTaps, self::RestAgain, self::LoadStep, self::ChargeStep, self::BoardReport, self::LoadCheck, self::PinCheck => 5,
            self::StripMillivolt, self::SenseUnpluggedRest, self::ResistanceCell => 10,
            self::RecoveryTrial => 30,
            self::Refill,
            self::CapacityGroup,
            self::CapacityPack,
            self::FullChargeWatch,
            self::FullDischargeWatch,
            self::GaugeRelearn
                => 20,
        };
    }

    /** 0 looks, 1 touches, 2 moves charge, 3 opens or pulls. Ties go to the lower. */
    public function invasiveness(): int
    {
        return match ($this) {
            self::TugWeld, self::StripMillivolt, self::ResistanceCell, self::SenseUnpluggedRest => 3,
            self::Refill,
            self::LoadStep,
            self::ChargeStep,
            self::RecoveryTrial,
            self::FullChargeWatch,
            self::FullDischargeWatch,
            self::CapacityGroup,
            self::CapacityPack,
            self::GaugeRelearn,
            self::RelaxingRead
                => 2,
            default => 1,
        };
    }

    /** Whether it may be done in this safety state: readings always, anything that moves charge or pulls only when clear. */
    public function allowed(SafetyState $state): bool
    {
        return match ($state) {
            SafetyState::Clear => true,
            SafetyState::Hold => $this->invasiveness() < 2 && !in_array($this, [self::Wake, self::LoadCheck], true),
            SafetyState::Quarantine => false,
        };
    }

    /**
     * Tests that give a kind of feature.
     *
     * @return list<self>
     */
    public static function giving(FeatureKind $kind): array
    {
        return match ($kind) {
            FeatureKind::Rest => [self::RestTaps],
            FeatureKind::Leak, FeatureKind::Refill => [self::RestAgain, self::Refill],
            FeatureKind::Resistance => [self::LoadStep, self::ChargeStep],
            FeatureKind::Capacity => [self::CapacityGroup],
            FeatureKind::Weld => [self::TugWeld, self::StripMillivolt],
            FeatureKind::Recovery => [self::RecoveryTrial],
            FeatureKind::Cells => [self::ResistanceCell],
            FeatureKind::Drop => [self::Continuity],
            default => [],
        };
    }

    /**
     * Tests that are kept in a record under these kinds.
     *
     * @return list<self>
     */
    public static function recordedAs(string ...$kinds): array
    {
        $of = [
            'wake' => self::Wake,
            'continuity' => self::Continuity,
            'flex' => self::Flex,
            'sensor' => self::Sensor,
            'charger' => self::ChargerCheck,
            'load-check' => self::LoadCheck,
            'pin-check' => self::PinCheck,
            'charge' => self::FullChargeWatch,
            'discharge' => self::FullDischargeWatch,
            'refill' => self::Refill,
            'tug-weld' => self::TugWeld,
        ];

        return array_values(array_intersect_key($of, array_flip($kinds)));
    }
}
