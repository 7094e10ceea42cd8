<?php

declare(strict_types=1);

namespace App\Contract;

use Heartwood\Core\Balance\BalanceMeans;
use Heartwood\Core\Balance\BalancePlan;
use Heartwood\Core\Build\BoardEnd;
use Heartwood\Core\Build\BuildSheet;
use Heartwood\Core\Build\CannotBuild;
use Heartwood\Core\Build\CaseWish;
use Heartwood\Core\Build\CurrentBudget;
use Heartwood\Core\Build\LayoutPlan;
use Heartwood\Core\Build\LayoutSearch;
use Heartwood\Core\Build\PinCheck;
use Heartwood\Core\Build\Strip;
use Heartwood\Core\Build\StripRoom;
use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\GradeRules;
use Heartwood\Core\Cell\Matcher;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Drift\Point;
use Heartwood\Core\Drift\Verdict as DriftVerdict;
use Heartwood\Core\Fleet\Fleet;
use Heartwood\Core\Fleet\Sibling;
use Heartwood\Core\Fleet\Spares;
use Heartwood\Core\Limits\BuildLimits;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Log\LogProblem;
use Heartwood\Core\Log\LogReader;
use Heartwood\Core\Log\LogTerms;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Run\CannotRun;
use Heartwood\Core\Run\Watch;
use Heartwood\Core\Trainer\Handover;
use Heartwood\Core\Trainer\Start;
use Heartwood\Core\Trainer\Trainer;
use Heartwood\Core\Twin\Simulation;

/** The verbs of the command line: JSON text in, one document out, errors by pointer. Needs no framework and no database. */
final class Verbs
{
    public const ALL = [
        'diagnose',
        'simulate',
        'balance',
        'analyse-log',
        'match',
        'budget',
        'layout',
        'pin-check',
        'watch',
        'drift',
        'fleet',
        'train',
    ];

    /**
     * @return array<string, mixed>
     *
     * @throws InvalidRecord
     */
    public static function run(string $verb, string $text): array
    {
        try {
            return match ($verb) {
                'diagnose' => self::diagnose($text),
                'simulate' => Simulation::of(...SimulationReader::read($text)),
                'balance' => self::balance(self::read($text, 'balance.schema.json'), $text),
                'budget' => self::budget(self::read($text, 'budget.schema.json'), $text),
                'match' => self::match(self::read($text, 'match.schema.json')),
                'layout' => self::layout(self::read($text, 'layout.schema.json')),
                'pin-check' => self::pins(self::read($text, 'pin-check.schema.json')),
                'watch' => self::watch($text),
                'drift' => self::drift(self::read($text, 'drift.schema.json')),
                'fleet' => self::fleet(self::read($text, 'fleet.schema.json')),
                'train' => self::train(self::read($text, 'round.schema.json')),
                'analyse-log' => self::log(self::read($text, 'analyse-log.schema.json')),
                default => throw new InvalidRecord([['pointer' => '', 'message' => "there is no verb '$verb'"]]),
            };
        } catch (InvalidRecord $e) {
            throw $e;
        } catch (CannotMatch $e) {
            throw new InvalidRecord([
                [
                    'pointer' => '/cells',
                    'message' => $e->getMessage() . ($e->relaxation === null ? '' : ' Nearest way: ' . $e->relaxation . '.'),
                ],
            ]);
        } catch (CannotBuild $e) {
            throw new InvalidRecord([['pointer' => $e->field, 'message' => $e->getMessage()]]);
        } catch (LogProblem $e) {
            throw new InvalidRecord([['pointer' => '/csv', 'message' => $e->getMessage()]]);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidRecord([['pointer' => '/parts', 'message' => $e->getMessage()]]);
        }
    }

    /** @return array<string, mixed> */
    private static function diagnose(string $text): array
    {
        $input = RecordReader::read($text);

        return Diagnoser::diagnose($input['record'], $input['hash'])->toArray();
    }

    /** @return array<string, mixed> */
    private static function watch(string $text): array
    {
        try {
            return Watch::of(...WatchReader::read($text))->toArray();
        } catch (CannotRun $e) {
            throw new InvalidRecord([['pointer' => $e->pointer, 'message' => $e->getMessage()]]);
        }
    }

    /** @return array<string, mixed> */
    private static function drift(Fields $in): array
    {
        $pack = PackSpec::from($in->object('pack'));
        $points = [];
        foreach ($in->objects('points') as $i => $p) {
            $point = Point::from($p);
            $problem = $point->problem($pack->series);
            if ($problem !== null) {
                throw new InvalidRecord([['pointer' => "/points/$i/{$problem['field']}", 'message' => $problem['text']]]);
            }
            $points[] = $point;
        }

        return DriftVerdict::of($pack, (string) $in->string('work_ended_at'), $points)->toArray();
    }

    /** @return array<string, mixed> */
    private static function fleet(Fields $in): array
    {
        $packs = $problems = [];
        foreach ($in->objects('packs') as $i => $p) {
            $packs[] = $pack = new Sibling(
                (string) $p->string('name'),
                PackSpec::from($p->object('pack')),
                (string) $p->string('condition'),
                $p->float('soc'),
                $p->numbers('groups_v'),
                $p->has('groups_ah') ? $p->numbers('groups_ah') : null,
            );
            $problem = $pack->problem();
            if ($problem !== null) {
                $problems[] = ['pointer' => "/packs/$i/{$problem['field']}", 'message' => $problem['text']];
            }
        }
        $fleet = Fleet::of($packs, $in->float('supply_a'));
        if ($fleet === null) {
            $problems[] = ['pointer' => '/packs', 'message' => 'no group of any was read'];
        }
        if ($problems !== [] || $fleet === null) {
            throw new InvalidRecord($problems);
        }
        $s = $in->object('spares');
        $spares = $in->has('spares')
            ? Spares::of(
                (int) $s->int('boards_in_service'),
                (int) $s->int('failures'),
                (float) $s->float('unit_months'),
                (float) $s->float('lead_weeks'),
                (float) $s->float('service_level'),
            )
            : null;

        return $fleet->toArray($spares);
    }

    /** @return array<string, mixed> */
    private static function train(Fields $in): array
    {
        return Trainer::replay(
            Start::drawn((int) $in->int('level'), (int) $in->int('seed')),
            $in->objects('acts'),
            $in->has('answer') ? $in->object('answer') : null,
            $in->has('work') ? new Handover($in->object('work')->objects('acts'), $in->object('work')->bool('returned')) : null,
        );
    }

    private static function read(string $text, string $schema): Fields
    {
        try {
            $data = json_decode($text, false, 64, JSON_THROW_ON_ERROR);
            $problems = SchemaCheck::problems($data, $schema);
            if ($problems !== []) {
                throw new InvalidRecord($problems);
            }

            return Fields::of(json_decode($text, true, 64, JSON_THROW_ON_ERROR));
        } catch (\JsonException $e) {
            throw new InvalidRecord([['pointer' => '', 'message' => 'this is not JSON: ' . $e->getMessage()]]);
        }
    }

    private static function job(string $text): JobRecord
    {
        try {
            return RecordReader::read((string) json_encode(json_decode($text)->job))['record'];
        } catch (InvalidRecord $e) {
            throw new InvalidRecord(
                array_map(fn(array $p): array => ['pointer' => '/job' . $p['pointer'], 'message' => $p['message']], $e->problems),
            );
        }
    }

    /** @return array<string, mixed> */
    private static function balance(Fields $in, string $text): array
    {
        $record = self::job($text);
        $evidence = new PackEvidence($record);
        $rated = $record->pack->groupCapacityAh();
        $curve = RestCurve::of($record->pack->chemistry);
        $soc = $capacity = $rest = [];
        foreach ($evidence->groups as $e) {
            if ($e->restV === null || $rated === null) {
                throw new InvalidRecord([
                    ['pointer' => '/job', 'message' => 'every group needs a rest voltage, and cells or label a capacity'],
                ]);
            }
            $rest[] = $e->restV;
            $soc[] = $curve->socAt($e->restV);
            $capacity[] = $e->capacity !== null ? max(0.05, $e->capacityAh) : $rated;
        }
        $m = $in->object('means');
        $means = BalanceMeans::of(
            $record->pack,
            $m->float('supply_a'),
            $m->float('active_a'),
            $m->bool('held_at_top') ?? true,
            $m->string('phosphate') ?? 'A',
        );
        $ohm = array_fill(0, count($soc), max(1e-4, $record->pack->groupResistanceMohm() / 1000));

        return ['format' => 'heartwood.balance', 'version' => 1] +
            (new BalancePlan($record->pack, $soc, $capacity, $ohm, $means, $rest))->toArray();
    }

    /** @return array<string, mixed> */
    private static function budget(Fields $in, string $text): array
    {
        return ['format' => 'heartwood.budget', 'version' => 1] +
            CurrentBudget::of(self::job($text)->pack, $in->object('parts'))->toArray();
    }

    /** @return array<string, mixed> */
    private static function match(Fields $in): array
    {
        $cells = array_map(
            fn(Fields $c): DrawerCell => new DrawerCell(
                (string) $c->string('id'),
                (float) $c->float('capacity_ah'),
                (float) $c->float('mohm'),
                $c->float('rest_v'),
                $c->float('leak_percent_month'),
                $c->string('lot') ?? '',
                $c->string('chemistry') ?? 'nmc',
                $c->float('full_v'),
                $c->float('max_a'),
                $c->bool('damaged') ?? false,
            ),
            $in->objects('cells'),
        );
        $ids = array_map(fn(DrawerCell $c): string => $c->id, $cells);
        foreach (array_diff_assoc($ids, array_unique($ids)) as $i => $id) {
            throw new InvalidRecord([['pointer' => "/cells/$i/id", 'message' => "the id '$id' is used twice: give each cell its own"]]);
        }
        $s = (int) $in->int('series');
        $p = (int) $in->int('parallel');
        $ah = array_map(fn(DrawerCell $c): float => $c->capacityAh, $cells);
        sort($ah);
        $rules = new GradeRules(
            $in->float('rated_ah') ?? $ah[intdiv(count($ah), 2)],
            $in->float('least_share') ?? 0.8,
            ratioInGroup: $in->float('ratio') ?? CellLimits::RATIO_IN_GROUP,
        );
        $graded = $rules->grade($cells);
        $deal = Matcher::deal(
            $graded['accepted'],
            $s,
            $p,
            $rules->ratioInGroup,
            $in->int('seed') ?? 1,
            $in->string('school') === 'like' ? 'like' : 'equal',
        );
        $hand = Matcher::serpentine($graded['accepted'], $s, $p);

        return ['format' => 'heartwood.match', 'version' => 1] +
            $deal->toArray() + [
                'rejected' => (object) $graded['rejected'],
                'by_hand' => [
                    'smallest_ah' => round($hand->least(), 5),
                    'gap' => round($hand->gap, 8),
                    'conductance_spread' => round($hand->conductanceSpread, 6),
                    'worst_ratio' => round($hand->worstRatio, 4),
                ],
                'ten_more_ah' => round(Matcher::withTenMore($graded['accepted'], $s, $p), 5),
            ];
    }

    /** @return array<string, mixed> */
    private static function layout(Fields $in): array
    {
        $left = [];
        foreach ((array) ($in->raw('left_out') ?? []) as $pair) {
            if (is_array($pair) && count($pair) === 2) {
                $left[] = [(int) $pair[0], (int) $pair[1]];
            }
        }
        $flat = $in->string('kind') === 'stack';
        $shape = match ($in->string('shape')) {
            'round' => 'round',
            'stairs' => 'stairs',
            'two-layers' => 'two-layers',
            default => 'box',
        };
        $rows = self::caseRows($in);
        if (!$flat && $shape === 'stairs' && $rows === []) {
            throw new InvalidRecord([
                ['pointer' => '/case_rows', 'message' => 'say how many cells each row of the case holds, from the top, such as 6 5 4'],
            ]);
        }
        $b = $in->object('board');
        $side = match ($b->string('side')) {
            'left' => 'left',
            'right' => 'right',
            'top' => 'top',
            'bottom' => 'bottom',
            default => null,
        };
        $layout = fn(?string $packing): LayoutPlan => LayoutSearch::into(
            (int) $in->int('series'),
            (int) $in->int('parallel'),
            (float) $in->float('diameter_mm'),
            (float) $in->float('length_mm'),
            new CaseWish(
                $flat ? 'rows' : $shape,
                $in->float('max_width_mm'),
                $in->float('max_height_mm'),
                $in->float('max_depth_mm'),
                $in->float('case_diameter_mm'),
                $packing,
                $left,
                $rows,
                $in->int('stack_rows') ?? 1,
                $side === null ? null : new BoardEnd($side, $b->float('minus_mm'), $b->float('plus_mm')),
            ),
        );
        $plan = $layout($in->string('packing'));
        $s = $in->object('strip');
        $stock = $in->object('stock');
        $volts = $in->numbers('groups_v');
        // Offset rows leave less room for a strip: where nobody asked for them, square ones are taken for a wide one.
        $wide = ($s->float('width_mm') ?? 8.0) > StripRoom::widest($plan);
        if ($wide && $plan->packing === 'offset' && $in->string('packing') === null && !$flat && $shape !== 'round') {
            $plan = $layout('square');
        }

        return ['format' => 'heartwood.layout', 'version' => 1] +
            (new BuildSheet(
                $plan,
                Strip::of($s->string('material') ?? 'nickel', $s->float('width_mm') ?? 8.0, $s->float('thickness_mm') ?? 0.15),
                $in->float('load_a') ?? 10.0,
                $volts === [] ? null : self::known($volts, '/groups_v'),
                [
                    'length_mm' => $stock->float('length_mm') ?? BuildLimits::STOCK_MM,
                    'sheet_mm' => $stock->float('sheet_mm'),
                    'kerf_mm' => $stock->float('kerf_mm') ?? BuildLimits::KERF_MM,
                ],
            ))->toArray();
    }

    /** @return list<array{int, int}> first column and count of each row: a number is a row from the left wall */
    private static function caseRows(Fields $in): array
    {
        $out = [];
        foreach ((array) ($in->raw('case_rows') ?? []) as $row) {
            $out[] = is_array($row) ? [(int) ($row[0] ?? 0), (int) ($row[1] ?? 0)] : [0, (int) $row];
        }

        return $out;
    }

    /**
     * @param  list<float|null>  $volts
     * @return list<float> every one of them
     *
     * @throws InvalidRecord one is not known
     */
    private static function known(array $volts, string $pointer): array
    {
        $out = [];
        foreach ($volts as $k => $v) {
            $out[] = $v ?? throw new InvalidRecord([['pointer' => "$pointer/$k", 'message' => 'every group must be read first']]);
        }

        return $out;
    }

    /** @return array<string, mixed> */
    private static function pins(Fields $in): array
    {
        $pins = array_map(fn(mixed $v): ?float => is_numeric($v) ? (float) $v : null, array_values((array) $in->raw('pins_v')));

        return ['format' => 'heartwood.pin-check', 'version' => 1] +
            PinCheck::of(self::known($in->numbers('groups_v'), '/groups_v'), $pins, $in->bool('from_positive') ?? false);
    }

    /** @return array<string, mixed> */
    private static function log(Fields $in): array
    {
        $file = $in->string('file');
        $csv = $in->string('csv');
        if (($file === null) === ($csv === null)) {
            throw new InvalidRecord([['pointer' => '/file', 'message' => 'give either the name of the log or its text']]);
        }
        $stream = $file !== null ? @fopen($file, 'r') : fopen('php://temp', 'r+');
        if ($stream === false || ($file !== null && is_dir($file))) {
            throw new InvalidRecord([['pointer' => '/file', 'message' => 'the log cannot be read: check its name and rights']]);
        }
        if ($csv !== null) {
            fwrite($stream, $csv);
            rewind($stream);
        }
        $terms = LogTerms::of(
            Chemistry::from((string) $in->string('chemistry')),
            (float) $in->float('rated_ah'),
            $in->int('series') ?? 1,
            $in->bool('four_wire') ?? true,
            ($in->float('lead_mohm') ?? 0.0) / 1000,
            $in->float('ambient_c'),
        );

        $said = (array) ($in->raw('mapping') ?? []) + ($in->int('sign') === null ? [] : ['sign' => $in->int('sign')]);
        $map = LogReader::mapping($stream, $terms, $said);

        return ['format' => 'heartwood.log', 'version' => 1, 'mapping' => $map->toArray()] +
            LogReader::figures($stream, $map, $terms)->toArray();
    }
}
