<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\Decide;
use App\Actions\Refused;
use App\Models\Consent;
use App\Models\Decision;
use App\Models\Job;
use App\Models\Verdict;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Money\PlainQuote;

/** A quote as the customer reads it, on the screen and on paper: computed only. */
final class Quotes
{
    /**
     * @param  string|null  $action  of the latest verdict; null: what was decided, else what the verdict puts first
     * @param  list<string>  $with  what is done with it, as one plan
     * @return array<string, mixed>
     *
     * @throws Refused nothing was judged yet, or the verdict does not offer that
     */
    public static function of(Job $job, ?string $action = null, array $with = []): array
    {
        $decision = Decision::query()->where('job_id', $job->id)->latest('id')->first();
        $verdict = Verdict::query()->where('job_id', $job->id)->latest('id')->first();
        if ($verdict === null) {
            throw new Refused('no-verdict', 'Nothing was judged yet: a quote follows from the verdict.');
        }
        if (
            $decision !== null &&
            ($action === null || ($with === [] && !isset($decision->option['parts']) && $action === $decision->action))
        ) {
            $option = $decision->option;
            $findings = Verdict::query()->whereKey($decision->verdict_id)->value('document')['findings'];
        } else {
            $first = $action ?? ($verdict->document['options'][0]['action'] ?? '');
            $option = Plans::option($job, $verdict, [$first, ...$with]);
            $findings = $verdict->document['findings'];
        }
        $quote = Decide::quote($job, $option)->toArray();
        $money = fn(int $cents): string => number_format($cents / 100, 2, '.', '') . ' ' . $quote['currency'];
        $ceiling = Consent::query()->where('job_id', $job->id)->latest('id')->value('ceiling_cents');
        $said = Plans::said($option);

        return [
            'action' => (string) $option['action'],
            'title' => $said,
            'parts' => PlainQuote::of(
                $findings,
                $said,
                (string) ($option['why'] ?? ''),
                isset($option['usable_ah']) ? (float) $option['usable_ah'] : null,
                (int) ($option['hands_minutes'] ?? 0),
                (float) ($option['wait_hours'] ?? 0.0),
                array_values(array_map(fn(string $c): string => Faults::of($c)->words()->plain, (array) ($option['leaves'] ?? []))),
                $ceiling === null ? null : $money($ceiling),
                $ceiling !== null && $quote['total_cents'] > $ceiling,
                $quote['new_pack_cents'] === null ? null : $money($quote['new_pack_cents']),
                $quote['new_pack_listed'],
            ),
            'lines' => [
                ...array_map(fn(array $l): array => ['what' => $l['what'], 'amount' => $money($l['cents'])], $quote['lines']),
                ['what' => 'work', 'amount' => $money($quote['labour_cents'])],
                ['what' => 'testing', 'amount' => $money($quote['fee_cents'])],
                ...$quote['tax_cents'] > 0
                    ? [['what' => "{$quote['tax']} {$quote['tax_percent']} %", 'amount' => $money($quote['tax_cents'])]]
                    : [],
            ],
            'total' => $money($quote['total_cents']),
        ];
    }
}
