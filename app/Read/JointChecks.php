<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\JointCheck;
use Illuminate\Database\Eloquent\Builder;

/** Joints that are due to be looked at again, whether their pack is here or went back. */
final class JointChecks
{
    /** @return list<int> jobs of a workshop with a joint that is due */
    public static function jobs(int $workshop): array
    {
        return array_values(self::overdue()->where('workshop_id', $workshop)->distinct()->pluck('job_id')->all());
    }

    /**
     * @param  array<int, int>  $jobs
     * @return array<int, string> what is to be looked at, by job
     */
    public static function due(array $jobs): array
    {
        $out = [];
        foreach (self::overdue()->whereIn('job_id', $jobs)->orderBy('tap')->get()->groupBy('job_id') as $job => $checks) {
            $taps = $checks->map(fn(JointCheck $c): string => "T$c->tap")->implode(', ');
            $out[(int) $job] = 'Look again at the joint' . (count($checks) === 1 ? '' : 's') . " at $taps";
        }

        return $out;
    }

    /** @return Builder<JointCheck> */
    private static function overdue(): Builder
    {
        return JointCheck::query()->whereNull('done_at')->where('due_at', '<=', now());
    }
}
