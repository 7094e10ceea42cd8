<?php

declare(strict_types=1);

namespace Heartwood\Core\Shop;

use Heartwood\Core\Repair\RepairAction;

/** Where workshops differ in good faith, what this one said (handbook "Schools of thought"): the person still decides, and is told. */
final readonly class Schools
{
    private function __construct(
        private bool $replacesLow,
        private bool $onlyTheCell,
        private bool $keepsLeaking,
        public bool $chargesPastBoard,
    ) {}

    public static function of(Settings $settings): self
    {
        $b = fn(string $key): bool => $settings->text($key) === 'B';

        return new self($b('recovery_school'), $b('scope_school'), $b('leak_school'), $b('bypass_school'));
    }

    /** @return array{agrees: bool, text: string}|null what this shop's way says of an option; null where ways do not differ */
    public function says(RepairAction $action): ?array
    {
        return match ($action) {
            RepairAction::RecoverGroup, RepairAction::RecoverPack => $this->replacesLow
                ? [
                    'agrees' => false,
                    'text' =>
                        'This shop replaces what has been near the floor: the copper that a deep discharge dissolved stays in the cell.',
                ]
                : ['agrees' => true, 'text' => 'This shop recovers slowly, group by group, and proves it.'],
            RepairAction::ReplaceGroup => $this->onlyTheCell
                ? ['agrees' => false, 'text' => 'This shop changes the faulty cell alone, where the rest of its group prove good.']
                : ['agrees' => true, 'text' => 'This shop changes the whole group: cells of one model and one health.'],
            RepairAction::ReplaceCell => $this->onlyTheCell
                ? ['agrees' => true, 'text' => 'This shop changes the faulty cell alone: prove the rest of its group first.']
                : [
                    'agrees' => false,
                    'text' => 'This shop changes the whole group: one new cell among worn ones is the next to be out of step.',
                ],
            RepairAction::KeepWithTopup => $this->keepsLeaking
                ? [
                    'agrees' => true,
                    'text' => 'This shop keeps a leaking group in service with a top-up at the interval shown: the customer signs for it.',
                ]
                : ['agrees' => false, 'text' => 'This shop replaces a leaking group: a leak grows.'],
            default => null,
        };
    }
}
