<?php

declare(strict_types=1);

namespace Heartwood\Core\Service;

use Heartwood\Core\Limits\DriftLimits;

/** What the owner of a pack in service is written to about (handbook "After the return: does the repair hold?"). */
enum MessageKind: string
{
    case Stop = 'stop';
    case TopUp = 'top-up';
    case Due = 'reading-due';
    case Overdue = 'overdue';

    private const DAY_S = 86_400;

    public function title(): string
    {
        return match ($this) {
            self::Stop => 'Stop using it',
            self::TopUp => 'A top-up is due',
            self::Due => 'A reading is due',
            self::Overdue => 'A reading is overdue',
        };
    }

    /** Key of the setting by which it is sent by itself. */
    public function setting(): string
    {
        return 'mail_' . str_replace('-', '_', $this->value);
    }

    /**
     * What a pack's owner is to be told now. Who was told to stop is not asked for readings.
     *
     * @return list<array{kind: self, about: string}> about: the moment it is about, by which it is told once
     */
    public static function due(
        \DateTimeImmutable $now,
        ?\DateTimeImmutable $stoppedAt,
        ?\DateTimeImmutable $readAt,
        ?\DateTimeImmutable $topUpAt,
    ): array {
        $about = fn(self $kind, \DateTimeImmutable $at): array => ['kind' => $kind, 'about' => $at->format('Y-m-d\TH:i:s\Z')];
        if ($stoppedAt !== null) {
            return [$about(self::Stop, $stoppedAt)];
        }
        $out = [];
        if ($topUpAt !== null && $topUpAt <= $now) {
            $out[] = $about(self::TopUp, $topUpAt);
        }
        if ($readAt !== null && $readAt <= $now) {
            $late = $now->getTimestamp() - $readAt->getTimestamp() > DriftLimits::OVERDUE_D * self::DAY_S;
            $out[] = $about($late ? self::Overdue : self::Due, $readAt);
        }

        return $out;
    }
}
