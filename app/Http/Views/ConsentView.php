<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Models\Consent;
use App\Models\Job;
use Heartwood\Core\Consent\Seal;
use Heartwood\Core\Consent\Term;

/** What was agreed for a job, newest first, and what may be. */
final class ConsentView
{
    /** @return array<string, mixed> */
    public static function of(Job $job): array
    {
        return [
            'agreed' => self::agreed($job),
            'terms' => array_map(
                fn(Term $t): array => ['key' => $t->value, 'title' => $t->title(), 'words' => $t->words(), 'always' => $t->isAlways()],
                Term::cases(),
            ),
            'seals' => array_map(fn(Seal $s): array => ['key' => $s->value, 'words' => $s->words()], Seal::cases()),
        ];
    }

    /** @return list<array<string, mixed>> */
    public static function agreed(Job $job): array
    {
        return array_values(
            Consent::query()
                ->where('job_id', $job->id)
                ->with(['person', 'said'])
                ->orderByDesc('id')
                ->get()
                ->map(
                    fn(Consent $c): array => [
                        'id' => $c->id,
                        'said_by' => $c->said->said_by ?? '',
                        'how' => $c->how,
                        'terms' => $c->terms,
                        'words' => $c->words,
                        'ceiling_cents' => $c->ceiling_cents,
                        'may_call' => $c->said->may_call ?? '',
                        'signature' => $c->said?->signature,
                        'by' => $c->person->name,
                        'at' => $c->taken_at->toIso8601ZuluString(),
                    ],
                )
                ->all(),
        );
    }
}
