<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\EventKind;
use App\Models\Decision;
use App\Models\Event;
use App\Models\Job;
use App\Models\Verdict;
use App\Models\Workshop;
use Carbon\CarbonImmutable;
use Heartwood\Core\Repair\Options;
use Heartwood\Core\Service\Cause;
use Heartwood\Core\Service\Comeback;
use Heartwood\Core\Service\Promise;

/** Packs that went back and came in again: by which job, under which promise, and why as far as evidence tells. Computed only. */
final class Comebacks
{
    private const DAY_S = 86_400;

    /** The job by which the pack of this one went back before. */
    public static function before(Job $job): ?Job
    {
        return $job->pack_id === null
            ? null
            : Job::query()->where('pack_id', $job->pack_id)->where('id', '<', $job->id)->where('status', 'returned')->latest('id')->first();
    }

    /**
     * @param  list<array{code: string, where: array<string, mixed>|null, probability: float, severity: string, title: string}>  $found  as
     *   the latest verdict has it
     * @return array<string, mixed>|null null where it never went back before
     */
    public static function of(Job $job, array $found): ?array
    {
        $before = self::before($job);
        if ($before === null || $before->closed_at === null) {
            return null;
        }
        $closed = self::closed($before);
        $promise = self::promise($closed);
        $came = $job->created_at->toImmutable();
        $why = Comeback::of(
            self::was($before, $closed),
            self::done($before),
            $found,
            $job->symptoms ?? [],
            (array) ($job->inspection ?? []),
        );
        $own = $job->status === 'open' ? null : self::closed($job)?->data['comeback'] ?? null;

        return [
            'job_id' => $before->id,
            'number' => $before->number,
            'returned_at' => $before->closed_at->toIso8601ZuluString(),
            'days' => max(0, intdiv($came->getTimestamp() - $before->closed_at->getTimestamp(), self::DAY_S)),
            'promise' => $promise === null ? null : ['sentence' => $promise->sentence(), 'runs' => $promise->runs($came)],
            'suggests' => $why === null ? null : ['cause' => $why->cause->value, 'words' => $why->cause->words(), 'why' => $why->why],
            'causes' => array_map(
                fn(Cause $c): array => [
                    'cause' => $c->value,
                    'words' => $c->words(),
                    'under_promise' => $promise === null ? null : $promise->covers($c, $came),
                ],
                Cause::cases(),
            ),
            'cause' => $own['cause'] ?? null,
        ];
    }

    public static function closed(Job $job): ?Event
    {
        return Event::query()->where('job_id', $job->id)->where('kind', EventKind::Closed)->latest('id')->first();
    }

    /** What was promised at a hand-back. */
    public static function promise(?Event $closed): ?Promise
    {
        $p = $closed?->data['promise'] ?? null;

        return $p === null
            ? null
            : new Promise(
                CarbonImmutable::parse($closed->at),
                (int) $p['months'],
                array_values(array_map(fn(string $c): Cause => Cause::from($c), $p['excludes'])),
                (string) ($p['words'] ?? ''),
            );
    }

    /** What this shop promises of its work, as it stands now. */
    public static function offered(Workshop $shop, ?int $months = null): Promise
    {
        $said = $shop->said();

        return new Promise(
            CarbonImmutable::now(),
            $months ?? $said->int('promise_months'),
            $said->on('promise_excludes_use') ? [Cause::Use] : [],
            $said->text('promise_words'),
        );
    }

    /** @return list<array{code: string, where: array<string, mixed>|null}> as it was seen in the end, else as it was found */
    private static function was(Job $before, ?Event $closed): array
    {
        $truth = $closed?->data['truth'] ?? null;
        if ($truth === null) {
            $found =
                Verdict::query()
                    ->whereKey(Decision::query()->where('job_id', $before->id)->latest('id')->value('verdict_id'))
                    ->first()?->document['findings'] ?? [];
            $truth = array_filter($found, fn(array $f): bool => $f['probability'] >= Options::ACT);
        }

        return array_values(array_map(fn(array $t): array => ['code' => $t['code'], 'where' => $t['where'] ?? null], $truth));
    }

    /** @return list<array{action: string, where: list<array<string, mixed>|null>}> */
    private static function done(Job $before): array
    {
        $decision = Decision::query()->where('job_id', $before->id)->latest('id')->first();
        $parts = $decision === null ? [] : $decision->option['parts'] ?? [['action' => $decision->action] + $decision->option];

        return array_values(
            array_map(
                fn(array $p): array => ['action' => (string) $p['action'], 'where' => array_values((array) ($p['where'] ?? []))],
                $parts,
            ),
        );
    }
}
