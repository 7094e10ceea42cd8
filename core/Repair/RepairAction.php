<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Limits\BenchTimes;

use Heartwood\Core\Record\Places;

/** The closed set of actions. There is none for bridging a protection or reviving a short. */
enum RepairAction: string
{
    case None = 'none';
    case ChargeGroup = 'charge-group';
    case Balance = 'balance';
    case RecoverGroup = 'recover-group';
    case ReplaceCell = 'replace-cell';
    case ReplaceGroup = 'replace-group';
    case Reweld = 'reweld';
    case CleanJoint = 'clean-joint';
    case RepairSense = 'repair-sense';
    case RepairPath = 'repair-path';
    case WakeBoard = 'wake-board';
    case ReplaceBoard = 'replace-board';
    case ReplaceCharger = 'replace-charger';
    case RepairLoad = 'repair-load';
    case RelearnGauge = 'relearn-gauge';
    case Relabel = 'relabel';
    case KeepWithTopup = 'keep-with-topup';
    case LighterDuty = 'lighter-duty';
    case Donor = 'donor';
    case Recycle = 'recycle';
    case Quarantine = 'quarantine';
    case ChargePack = 'charge-pack';
    case RecoverPack = 'recover-pack';
    case Rebuild = 'rebuild';
    case Build = 'build';

    /** The pack does not go back to anybody as a pack. */
    public function endsPack(): bool
    {
        return in_array($this, [self::Recycle, self::Donor, self::Quarantine], true);
    }

    /** Whether carrying it out alters cells, joints or board and so opens the next pack revision. */
    public function altersPack(): bool
    {
        return in_array(
            $this,
            [
                self::ReplaceCell,
                self::ReplaceGroup,
                self::Reweld,
                self::CleanJoint,
                self::RepairSense,
                self::RepairPath,
                self::ReplaceBoard,
                self::RecoverGroup,
                self::RecoverPack,
                self::Rebuild,
                self::Build,
            ],
            true,
        );
    }

    /** The gate of the safety table it falls under (see Safety\Gate). */
    public function gate(): ?string
    {
        return match ($this) {
            self::ChargeGroup, self::Balance, self::RecoverGroup, self::RecoverPack => 'recover-or-balance',
            self::ReplaceCell,
            self::ReplaceGroup,
            self::Reweld,
            self::CleanJoint,
            self::RepairSense,
            self::RepairPath,
            self::ReplaceBoard,
            self::Donor,
            self::Rebuild,
            self::Build
                => 'open',
            self::WakeBoard, self::RelearnGauge, self::KeepWithTopup, self::LighterDuty, self::ChargePack => 'load-or-charge',
            default => null,
        };
    }

    /** What such an action usually takes of a person, minutes. */
    public function minutes(): int
    {
        return BenchTimes::HANDS_MIN[$this->value] ?? 0;
    }

    /** And of the calendar beyond that, hours. */
    public function hours(): float
    {
        return BenchTimes::WAIT_H[$this->value] ?? 0.0;
    }

    /** @return 'recover'|'balance'|'charge'|'wake'|'build'|null the room in which it is done; null for what hands alone do */
    public function room(): ?string
    {
        return match ($this) {
            self::RecoverGroup, self::ChargeGroup, self::RecoverPack => 'recover',
            self::Balance => 'balance',
            self::ChargePack => 'charge',
            self::WakeBoard => 'wake',
            self::ReplaceCell, self::ReplaceGroup, self::Rebuild, self::Build, self::ReplaceBoard, self::RepairSense => 'build',
            default => null,
        };
    }

    /** @return 'group'|'joint'|null what it is done at, one or several; null for the pack as a whole */
    public function placedAt(): ?string
    {
        return match ($this) {
            self::ChargeGroup, self::RecoverGroup, self::ReplaceCell, self::ReplaceGroup, self::Reweld => 'group',
            self::CleanJoint => 'joint',
            default => null,
        };
    }

    public function title(): string
    {
        return match ($this) {
            self::None => 'Leave it as it is',
            self::ChargeGroup => 'Top the group up by itself',
            self::Balance => 'Balance the groups',
            self::RecoverGroup => 'Recover the group slowly',
            self::ReplaceCell => 'Replace the cell',
            self::ReplaceGroup => 'Replace the group',
            self::Reweld => 'Weld the cell again',
            self::CleanJoint => 'Clean and torque the joint',
            self::RepairSense => 'Repair the sense lead',
            self::RepairPath => 'Repair the current path',
            self::WakeBoard => 'Wake the board',
            self::ReplaceBoard => 'Replace the board',
            self::ReplaceCharger => 'Replace the charger',
            self::RepairLoad => 'Repair the device or harness',
            self::RelearnGauge => 'Teach the gauge again',
            self::Relabel => 'Put the true figures on the label',
            self::KeepWithTopup => 'Keep it in service with a top-up interval',
            self::LighterDuty => 'Lighter duty at a lower current',
            self::Donor => 'Keep it as a donor of cells',
            self::Recycle => 'Recycle it',
            self::Quarantine => 'Quarantine',
            self::ChargePack => 'Charge the pack slowly, every group watched',
            self::RecoverPack => 'Bring the whole pack up past the board',
            self::Rebuild => 'Rebuild it with new cells',
            self::Build => 'Build it by the sheet',
        };
    }

    /**
     * What is done, and where: "Replace groups 5 to 8", "Clean and torque joint 4".
     *
     * @param  list<array<string, int|string>|null>  $where  as an option has it
     */
    public function at(array $where): string
    {
        $words = Places::words($where);
        $kinds = array_unique(array_map(fn(?array $w): string => (string) array_key_first($w ?? []), $where));
        $the = count($kinds) === 1 ? '/\\bthe ' . preg_quote($kinds[0], '/') . '\\b/' : null;

        return match (true) {
            $words === '' => $this->title(),
            $the !== null && preg_match($the, $this->title()) === 1 => (string) preg_replace($the, $words, $this->title()),
            default => "{$this->title()}: $words",
        };
    }

    /**
     * Several, as one plan says them.
     *
     * @param  list<array{action: string, where: list<array<string, int|string>|null>}>  $parts
     */
    public static function together(array $parts): string
    {
        $said = array_map(fn(array $p): string => self::from($p['action'])->at($p['where']), $parts);

        return implode(', ', array_map(fn(string $t, int $i): string => $i === 0 ? $t : lcfirst($t), $said, array_keys($said)));
    }
}
