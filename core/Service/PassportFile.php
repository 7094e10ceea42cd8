<?php

declare(strict_types=1);

namespace Heartwood\Core\Service;

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Record\Canonical;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Rules;

/**
 * A passport of a pack as a file, format heartwood.passport, version 1: sealed with a sum that tells whether it was changed, and read with
 * what a workshop cannot vouch for (handbook "After the return: does the repair hold?").
 */
final readonly class PassportFile
{
    /** What this version knows of the first level of the file. */
    private const KNOWN = [
        'format',
        'version',
        'written_at',
        'rules',
        'workshop',
        'sha256',
        'pack',
        'owners',
        'jobs',
        'capacity',
        'resistance',
        'watch',
        'readings',
        'earlier',
    ];

    /** Brackets within brackets, at most. */
    private const DEEP = 512;

    /** @param  array<string, mixed>  $document  that contract/passport.schema.json has passed */
    private function __construct(private array $document) {}

    /**
     * @param  array<string, mixed>  $document
     * @return array<string, mixed> the same with its sum
     */
    public static function sealed(array $document): array
    {
        unset($document['sha256']);

        // As it is read again: what was an object or a list is one spelling.
        $read = json_decode(json_encode($document, JSON_THROW_ON_ERROR), true, self::DEEP, JSON_THROW_ON_ERROR);

        return $document + ['sha256' => Canonical::hash($read)];
    }

    /** @param  array<string, mixed>  $document  that the schema has passed */
    public static function of(array $document): self
    {
        return new self($document);
    }

    public function isWhole(): bool
    {
        return self::sealed($this->document)['sha256'] === ($this->document['sha256'] ?? '');
    }

    public function spec(): PackSpec
    {
        return PackSpec::from($this->fields()->object('pack')->object('spec'));
    }

    /** @return list<array{pointer: string, message: string}> what a schema cannot check; nothing is taken of such a file */
    public function problems(): array
    {
        $out = $ids = [];
        foreach ($this->fields()->objects('readings') as $i => $r) {
            $id = (string) $r->string('id');
            if (isset($ids[$id])) {
                $out[] = ['pointer' => "/readings/$i/id", 'message' => 'stands twice: each reading has its own'];
            }
            $ids[$id] = true;
        }
        if (self::depth($this->fields()) > DriftLimits::PASSPORT_DEPTH) {
            $out[] = ['pointer' => '/earlier', 'message' => sprintf('lies over %d files deep', DriftLimits::PASSPORT_DEPTH)];
        }

        return $out;
    }

    /** @return list<Fields> readings that are readings of this pack */
    public function readings(): array
    {
        $series = $this->spec()->series;

        return array_values(
            array_filter($this->fields()->objects('readings'), fn(Fields $r): bool => Point::from($r)->problem($series) === null),
        );
    }

    /**
     * What whoever reads it cannot vouch for: nothing of it is thrown away, all of it is said.
     *
     * @return list<string>
     */
    public function doubts(\DateTimeImmutable $now): array
    {
        $d = $this->fields();
        $from = (string) $d->string('workshop');
        $all = $d->objects('readings');
        $out = ["What $from measured, found and did was not seen here."];
        if (!$this->isWhole()) {
            $out[] = 'It was changed since it was written: its sum is another.';
        }
        if (self::time($d->string('written_at')) > $now) {
            $out[] = 'It was written at a time that is yet to come.';
        }
        $others = [];
        foreach ($d->objects('jobs') as $j) {
            $name = sprintf('Job %d of %s', (int) $j->int('number'), $from);
            $closed = $j->string('closed_at');
            if ($closed !== null && self::time($closed) < self::time($j->string('opened_at'))) {
                $out[] = "$name ends before it begins.";
            }
            if ($j->string('status') === 'returned' && $j->string('signed_at') === null) {
                $out[] = "$name went back without a signed proof.";
            }
            $rules = $j->object('verdict')->string('rules');
            if ($rules !== null && $rules !== Rules::VERSION) {
                $others[$rules] = true;
            }
        }
        if ($others !== []) {
            $out[] = sprintf('Its verdicts are by other rules than ours (%s).', implode(', ', array_keys($others)));
        }
        $said = count(array_filter($all, fn(Fields $r): bool => $r->string('source') === 'owner'));
        if ($said > 0) {
            $out[] = sprintf('%d of its %d readings were said by its owner.', $said, count($all));
        }
        $none = count($all) - count($this->readings());
        if ($none > 0) {
            $out[] = sprintf('%d of its readings are none of a pack of %d groups: kept, not counted.', $none, $this->spec()->series);
        }
        $ahead = count(array_filter($all, fn(Fields $r): bool => self::time($r->string('at')) > $now));
        if ($ahead > 0) {
            $out[] = sprintf('%d of its readings are dated into the future: kept, not counted.', $ahead);
        }
        $unknown = array_values(array_diff(array_keys($this->document), self::KNOWN));
        if ($unknown !== []) {
            $out[] = sprintf('Not known here, kept as it came: %s.', implode(', ', $unknown));
        }

        return $out;
    }

    private function fields(): Fields
    {
        return new Fields($this->document);
    }

    private static function time(?string $at): \DateTimeImmutable
    {
        return new \DateTimeImmutable($at ?? '@0');
    }

    private static function depth(Fields $document): int
    {
        return 1 +
            array_reduce(
                $document->objects('earlier'),
                fn(int $deepest, Fields $e): int => max($deepest, self::depth($e->object('document'))),
                0,
            );
    }
}
