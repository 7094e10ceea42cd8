<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Consent;
use App\Models\Job;
use App\Models\Person;
use Heartwood\Core\Consent\Seal;
use Heartwood\Core\Consent\Term;
use Heartwood\Core\Consent\Words;
use Illuminate\Support\Facades\DB;

/** Writes down what a customer agreed to, as it was put to them; a later one stands beside it and changes nothing of it. */
final class TakeConsent
{
    /** @param  array<string, mixed>  $said  terms, seal, ceiling_cents, how, said_by, may_call, signature */
    public function handle(Person $person, Job $job, array $said): Consent
    {
        return DB::transaction(function () use ($person, $job, $said): Consent {
            Gatekeeper::open(LockJob::now($job));
            $terms = array_values(array_map(fn(string $t): Term => Term::from($t), array_unique($said['terms'])));
            $cents = isset($said['ceiling_cents']) ? (int) $said['ceiling_cents'] : null;
            try {
                $words = Words::of(
                    $terms,
                    Seal::from($said['seal']),
                    $cents === null ? null : number_format($cents / 100, 2, '.', '') . ' ' . $person->workshop->said()->text('currency'),
                );
            } catch (\InvalidArgumentException $e) {
                throw new Refused('nothing-agreed', $e->getMessage(), 422, ['terms' => $e->getMessage()]);
            }
            if ($said['how'] === 'counter' && ($said['signature'] ?? null) === []) {
                $said['signature'] = null;
            }
            $consent = Consent::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'how' => $said['how'],
                'seal' => $said['seal'],
                'ceiling_cents' => $cents,
                'terms' => array_map(fn(Term $t): string => $t->value, $terms),
                'words' => $words,
                'taken_by' => $person->id,
                'taken_at' => now(),
            ]);
            $consent->said()->create([
                'said_by' => trim((string) $said['said_by']),
                'may_call' => trim((string) ($said['may_call'] ?? '')),
                'signature' => $said['signature'] ?? null,
            ]);
            EventLog::add($person, $job, EventKind::Consent, ['how' => $consent->how]);

            return $consent;
        });
    }
}
