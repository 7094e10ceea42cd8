<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Record\Condition;

/** One step of a guided run: what is done, waited for, read, written down or asked. */
final readonly class Step
{
    /**
     * @param  list<Field>  $fields
     * @param  float  $minutes  of a wait; of rows, how far apart they may lie
     * @param  Condition|null  $condition  of the set that its reading becomes
     * @param  float|null  $sinceS  seconds of current when it is read
     * @param  bool  $may  whether it may be left out
     * @param  string  $room  of the job, where it can be done with instruments; empty: none
     */
    private function __construct(
        public string $code,
        public StepKind $kind,
        public string $text,
        public array $fields = [],
        public float $minutes = 0.0,
        public ?Condition $condition = null,
        public ?float $sinceS = null,
        public bool $may = false,
        public string $room = '',
        public string $door = '',
    ) {}

    public static function do(string $code, string $text): self
    {
        return new self($code, StepKind::Do, $text);
    }

    public static function wait(string $code, string $text, float $minutes): self
    {
        return new self($code, StepKind::Wait, $text, [], $minutes);
    }

    /** @param  list<Field>  $more  beside the volts of the groups */
    public static function read(string $code, string $text, Condition $condition, array $more = [], ?float $sinceS = null): self
    {
        $volts = Field::volts('groups_v', 'Volts of the groups, from B-, "-" where unread');

        return new self($code, StepKind::Read, $text, [$volts, ...$more], 0.0, $condition, $sinceS);
    }

    /** @param  list<Field>  $more */
    public static function log(string $code, string $text, Condition $condition, float $everyMin, array $more = []): self
    {
        $volts = Field::volts('groups_v', 'Volts of the groups, from B-, "-" where unread');

        return new self($code, StepKind::Log, $text, [$volts, ...$more], $everyMin, $condition);
    }

    /** @param  list<Field>  $fields */
    public static function ask(string $code, string $text, array $fields): self
    {
        return new self($code, StepKind::Ask, $text, $fields);
    }

    /** The same, with the room in which instruments do it. */
    public function in(string $room, string $door): self
    {
        return new self(
            $this->code,
            $this->kind,
            $this->text,
            $this->fields,
            $this->minutes,
            $this->condition,
            $this->sinceS,
            $this->may,
            $room,
            $door,
        );
    }

    /** The same, which may be left out. */
    public function may(): self
    {
        return new self(
            $this->code,
            $this->kind,
            $this->text,
            $this->fields,
            $this->minutes,
            $this->condition,
            $this->sinceS,
            true,
            $this->room,
            $this->door,
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'code' => $this->code,
            'kind' => $this->kind->value,
            'text' => $this->text,
            'fields' => array_map(fn(Field $f): array => $f->toArray(), $this->fields),
            'minutes' => $this->minutes,
            'may' => $this->may,
            'room' => $this->room,
            'door' => $this->door,
        ];
    }
}
