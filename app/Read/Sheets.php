<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\BuildRecord;
use App\Actions\Refused;
use App\Contract\Verbs;
use App\Models\Job;
use Heartwood\Core\Build\CellFormat;
use Heartwood\Core\Build\CurrentBudget;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Illuminate\Support\Facades\DB;

/** The sheets of a build, worked out from what is kept of them and what the pack reads: computed only. */
final class Sheets
{
    /**
     * @param  array<string, mixed>  $parts
     * @return array<string, mixed>
     */
    public static function budget(Job $job, array $parts): array
    {
        $parts = self::withLinks($job, $parts);

        return self::work(
            'budget',
            [
                'job' => array_diff_key(BuildRecord::of($job), ['measurements' => 1, 'tests' => 1, 'events' => 1]),
                'parts' => (object) $parts,
            ],
            '/parts',
        );
    }

    /**
     * How many links a group has, and how long they are, as the build sheet lays them: where nobody said otherwise.
     *
     * @param  array<string, mixed>  $parts
     * @return array<string, mixed>
     */
    private static function withLinks(Job $job, array $parts): array
    {
        $kept = self::kept($job, 'layout');
        if ($kept === [] || !isset($parts['strip']['material']) || isset($parts['strip']['per_group'])) {
            return $parts;
        }
        try {
            $sheet = self::layout($job, $kept);
        } catch (Refused) {
            // A layout that does not fit says so in its own room.
            return $parts;
        }

        return ['strip' => $parts['strip'] + ['per_group' => $sheet['least_across'], 'length_mm' => $sheet['pitch_mm']]] + $parts;
    }

    /**
     * @param  array<string, mixed>  $data
     * @return array<string, mixed>
     */
    public static function layout(Job $job, array $data): array
    {
        $pack = PackSpec::from(new Fields($job->pack));
        [$d, $l] = CellFormat::size($pack->cell->string('format'));
        $parts = self::kept($job, 'budget');
        $budget = CurrentBudget::of($pack, new Fields($parts));
        $groups = self::groups($job);
        // The strip that the current path was worked out with, unless the sheet says another.
        $strip = isset($parts['strip']['material'])
            ? array_intersect_key($parts['strip'], array_flip(['material', 'width_mm', 'thickness_mm']))
            : null;

        return self::work(
            'layout',
            $data + [
                    'series' => $job->series,
                    'parallel' => (int) ($job->parallel ?? 1),
                    'diameter_mm' => $d,
                    'length_mm' => $l,
                    ...$strip === null ? [] : ['strip' => $strip],
                    'load_a' => round($budget->loadA > 0 ? $budget->loadA : 2.0 * ($pack->groupCapacityAh() ?? 5.0), 2),
                ] +
                ($groups === null ? [] : ['groups_v' => $groups]),
            '',
        );
    }

    /** @return array<string, mixed> */
    public static function kept(Job $job, string $kind): array
    {
        $kept = (array) json_decode((string) DB::table('job_sheets')->where('job_id', $job->id)->where('kind', $kind)->value('data'), true);
        // Sheets of an earlier version may say more than new: that is said anew, and holds nothing up until then.
        if (($kept['soh'] ?? 0) > 1) {
            unset($kept['soh']);
        }

        return $kept;
    }

    /** @return list<float>|null */
    public static function groups(Job $job): ?array
    {
        $out = [];
        foreach ((new PackEvidence(JobRecord::fromArray(BuildRecord::of($job))))->groups as $e) {
            if ($e->restV === null) {
                return null;
            }
            $out[] = round($e->restV, 4);
        }

        return $out;
    }

    /**
     * @param  array<string, mixed>  $input
     * @return array<string, mixed>
     */
    private static function work(string $verb, array $input, string $prefix): array
    {
        try {
            return Verbs::run($verb, (string) json_encode($input));
        } catch (InvalidRecord $e) {
            $fields = [];
            foreach ($e->problems as $p) {
                $fields[ltrim(str_starts_with($p['pointer'], $prefix) ? substr($p['pointer'], strlen($prefix)) : $p['pointer'], '/')] =
                    $p['message'];
            }
            throw new Refused('cannot', $e->problems[0]['message'], 422, $fields);
        }
    }
}
