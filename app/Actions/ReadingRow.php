<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use Illuminate\Database\Query\JoinClause;
use Illuminate\Support\Facades\DB;

/** A reading that counts, as a page or a record takes it by the thousand: plain, never written. */
final readonly class ReadingRow
{
    private function __construct(
        public string $id,
        public string $set,
        public string $from,
        public string $to,
        public string $typed,
        public float $volts,
        public ?float $resolutionV,
        public ?string $correctsId,
        public string $by,
        public string $at,
    ) {}

    /**
     * Readings of a job that nothing corrects and that withdraw nothing, in the order they were taken.
     *
     * @param  string|null  $set  of this set alone
     * @return array<string, list<self>> by set
     */
    public static function live(Job $job, ?string $set = null): array
    {
        $rows = DB::table('readings')
            ->where('readings.job_id', $job->id)
            ->when($set !== null, fn($q) => $q->where('readings.measurement_id', $set))
            ->join(
                'people',
                fn(JoinClause $on) => $on->on('people.id', '=', 'readings.taken_by')->on('people.workshop_id', '=', 'readings.workshop_id'),
            )
            ->orderBy('readings.taken_at')
            ->orderBy('readings.id')
            ->get([
                'readings.id',
                'measurement_id',
                'from_point',
                'to_point',
                'typed',
                'value',
                'resolution_v',
                'corrects_id',
                'people.name',
                'readings.taken_at',
            ]);
        $corrected = [];
        foreach ($rows as $r) {
            if ($r->corrects_id !== null) {
                $corrected[$r->corrects_id] = true;
            }
        }
        $out = [];
        foreach ($rows as $r) {
            if ($r->value !== null && !isset($corrected[$r->id])) {
                $out[$r->measurement_id][] = new self(
                    $r->id,
                    $r->measurement_id,
                    $r->from_point,
                    $r->to_point,
                    $r->typed,
                    (float) $r->value,
                    $r->resolution_v === null ? null : (float) $r->resolution_v,
                    $r->corrects_id,
                    $r->name,
                    str_replace(' ', 'T', substr($r->taken_at, 0, 19)) . 'Z',
                );
            }
        }

        return $out;
    }

    /** @return array<string, mixed> as the record has it */
    public function recorded(): array
    {
        return ['from' => $this->from, 'to' => $this->to, 'v' => $this->volts] +
            ($this->resolutionV === null ? [] : ['resolution_v' => $this->resolutionV]);
    }

    /** @return array<string, mixed> as a page shows it */
    public function shown(): array
    {
        return [
            'id' => $this->id,
            'from' => $this->from,
            'to' => $this->to,
            'typed' => $this->typed,
            'v' => $this->volts,
            'corrects_id' => $this->correctsId,
            'by' => $this->by,
            'at' => $this->at,
        ];
    }
}
