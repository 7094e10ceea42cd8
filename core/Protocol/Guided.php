<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

/** Where a guided run stands: its steps, which is next, until when it waits, whether it can come to its outcome. */
final readonly class Guided
{
    /** Steps that any run may come to: one that asks for more is broken. */
    private const MOST = 2000;

    /**
     * @param  list<array{step: Step, state: 'done'|'next'|'later'|'left', entry: Entry|null, rows: list<Entry>, due: float|null}>  $steps
     *   due: when a wait is over, seconds of the epoch
     * @param  int|null  $at  index of the step that is next; null when all are closed
     * @param  bool  $complete  whether its outcome can be told
     */
    private function __construct(public Course $course, public array $steps, public ?int $at, public bool $complete) {}

    public static function of(Protocol $protocol, Course $course): self
    {
        $since = $course->startedAt;
        $out = [];
        $now = null;
        for ($i = 0; $i < self::MOST; $i++) {
            $steps = $protocol->steps($course);
            if (!isset($steps[$i])) {
                break;
            }
            $step = $steps[$i];
            $next = $steps[$i + 1] ?? null;
            $rows = $course->all($step->code);
            $entry = $rows === [] ? null : $rows[count($rows) - 1];
            if ($entry === null && $now === null) {
                $entry = $protocol->found($course, $step, $since);
                $course = $entry === null ? $course : $course->with($entry);
            }
            $due = $step->kind === StepKind::Wait ? $since + 60 * $step->minutes : null;
            // Rows go on until what follows them is answered; a wait until it is over or what follows was done all the same.
            $after = $next !== null && ($course->all($next->code) !== [] || $protocol->found($course, $next, $due ?? $since) !== null);
            $closed = match ($step->kind) {
                StepKind::Wait => $after || $entry !== null || $course->now >= $due,
                StepKind::Log => $after || $entry?->left === true,
                default => $entry !== null,
            };
            if (!$closed && $now === null) {
                $now = $i;
            }
            $out[] = [
                'step' => $step,
                'state' => match (true) {
                    $entry?->left === true => 'left',
                    $closed && $now === null => 'done',
                    $now === $i => 'next',
                    default => 'later',
                },
                'entry' => $entry,
                'rows' => $step->kind === StepKind::Log ? $rows : [],
                'due' => $due,
            ];
            $since = $entry === null ? $due ?? $since : $entry->at;
        }

        return new self($course, $out, $now, $now === null || $protocol->enough($course));
    }

    /** The step that an entry may be for: the next one, what ends its rows, or what follows its wait. */
    public function open(string $code): ?Step
    {
        if ($this->at === null) {
            return null;
        }
        $kind = $this->steps[$this->at]['step']->kind;
        foreach ([$this->at, $kind === StepKind::Log || $kind === StepKind::Wait ? $this->at + 1 : $this->at] as $i) {
            if (($this->steps[$i]['step'] ?? null)?->code === $code) {
                return $this->steps[$i]['step'];
            }
        }

        return null;
    }

    /** Until when it waits, seconds of the epoch; null when hands are wanted now. */
    public function waits(): ?float
    {
        return $this->at === null || $this->steps[$this->at]['step']->kind !== StepKind::Wait ? null : $this->steps[$this->at]['due'];
    }

    /** What it wants next, in words. */
    public function next(): string
    {
        return match (true) {
            $this->at !== null => $this->steps[$this->at]['step']->text,
            default => 'Keep what it came to.',
        };
    }
}
