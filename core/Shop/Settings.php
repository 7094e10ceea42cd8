<?php

declare(strict_types=1);

namespace Heartwood\Core\Shop;

use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Service\MessageKind;

/** What a shop has said of itself, each with its default where it has said nothing. Only what differs is stored. */
final readonly class Settings
{
    public const LIMITS = 'limits';

    /** Groups in the order in which they are shown. */
    public const GROUPS = [
        'shop' => 'The shop',
        'money' => 'Money',
        'schools' => 'Schools of thought',
        self::LIMITS => 'Limits, stricter only',
        'doors' => 'Doors',
        'messages' => 'Messages to owners',
    ];

    private const SCHOOLS = 'handbook "Schools of thought"';

    private const HOUSE = 'assumed';

    private const ASVS_SESSIONS = 'OWASP ASVS 4.0.3, 3.3.2';

    /** Currencies whose amounts have two decimals (ISO 4217). */
    private const CURRENCIES = [
        'AUD',
        'BRL',
        'CAD',
        'CHF',
        'CZK',
        'DKK',
        'EUR',
        'GBP',
        'HKD',
        'ILS',
        'INR',
        'MXN',
        'NOK',
        'NZD',
        'PLN',
        'RON',
        'SEK',
        'SGD',
        'THB',
        'TRY',
        'USD',
        'ZAR',
    ];

    /**
     * Cents an hour of hands, of a diagnosis, a cell of 3 Ah, a board, and strip and leads of a cell, where a shop has said nothing
     * (assumed).
     */
    private const RATE = 6000;

    private const FEE = 2500;

    private const CELL = 600;

    private const BOARD = 4500;

    private const STRIP = 35;

    /** Percent of a new pack's price, and of the label's capacity, at which the scrap line is drawn (handbook "Repair options"). */
    private const SCRAP_PERCENT = 60.0;

    /** Percent of what a repaired pack sells for that is left of a lot. */
    private const LOT_MARGIN = 30.0;

    private const LOT_MARGIN_MAX = 95;

    private const MONEY_MAX = 10_000_000;

    private const HOUR_MAX = 100_000;

    private const PERCENT_MAX = 100;

    private const MARGIN_MAX = 400;

    private const TAX_MAX = 50;

    private const WH_MAX = 100_000;

    private const MILLI = 1000;

    /** Minutes and hours a session lasts at most, and what a shop may come down to. */
    private const IDLE_MAX = 30;

    private const IDLE_LEAST = 2;

    private const HOURS_MAX = 12;

    private const PROMISE_MAX = 60;

    private const SUBMISSION = 587;

    private const PORT_MAX = 65535;

    /** @param  array<string, mixed>  $stored  by key, as the workshop keeps them; what is not a setting is left alone */
    private function __construct(private array $stored) {}

    /** @param  array<string, mixed>|null  $stored */
    public static function of(?array $stored): self
    {
        return new self($stored ?? []);
    }

    /** @return array<string, Setting> by key, in the order in which they are shown */
    public static function all(): array
    {
        /** @var array<string, Setting>|null $all */
        static $all = null;

        return $all ??= array_column(array_map(fn(Setting $s): array => [$s->key, $s], self::define()), 1, 0);
    }

    /** @return list<Setting> */
    private static function define(): array
    {
        return [
            new Setting(
                'timezone',
                'shop',
                'Time zone',
                'zone',
                'When the shop closes, and the times on reports.',
                'UTC',
                source: self::HOUSE,
            ),
            new Setting(
                'closes_at',
                'shop',
                'The shop closes at',
                'time',
                'No run is started that would last longer; one that runs goes off then.',
                null,
                source: 'handbook "Recovery of a deep-discharged group"',
            ),
            new Setting(
                'currency',
                'shop',
                'Currency',
                'choice',
                'Every amount in quotes and reports. Amounts are not converted.',
                'EUR',
                choices: array_combine(self::CURRENCIES, self::CURRENCIES),
                source: 'ISO 4217',
            ),
            new Setting('tax_name', 'shop', 'Name of the tax', 'text', 'The tax line of quotes and reports.', 'VAT', source: self::HOUSE),
            new Setting(
                'tax_percent',
                'shop',
                'Tax',
                'percent',
                'Added to every quote as a line of its own; none at 0.',
                0.0,
                '%',
                0,
                self::TAX_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'promise_months',
                'shop',
                'Promise of the work',
                'whole',
                'What is offered at a hand-back, and whether a pack that comes back falls under it; none at 0.',
                DriftLimits::PROMISE_MONTHS,
                'months',
                0,
                self::PROMISE_MAX,
                source: 'handbook "A pack that comes back"',
            ),
            new Setting(
                'promise_excludes_use',
                'shop',
                'The promise leaves out how it was used',
                'switch',
                'A pack that got wet, fell or was left empty does not fall under it.',
                true,
                source: 'handbook "A pack that comes back"',
            ),
            new Setting(
                'promise_words',
                'shop',
                'Words under the promise',
                'text',
                'They stand beside it on the report.',
                null,
                source: self::HOUSE,
            ),

            new Setting(
                'rate_cents',
                'money',
                'An hour of hands',
                'money',
                'Labour in every quote.',
                self::RATE,
                'an hour',
                0,
                self::HOUR_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'fee_cents',
                'money',
                'Fee for the diagnosis',
                'money',
                'Every quote, also where nothing is repaired.',
                self::FEE,
                '',
                0,
                self::MONEY_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'margin_percent',
                'money',
                'Margin on parts',
                'percent',
                'Cells, boards, strips and leads in every quote.',
                0.0,
                '%',
                0,
                self::MARGIN_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'lot_margin_percent',
                'money',
                'Margin on a lot of packs',
                'percent',
                'The most to pay for the next lot: this share of what a repaired pack sells for is left.',
                self::LOT_MARGIN,
                '%',
                0,
                self::LOT_MARGIN_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'cell_cents',
                'money',
                'A cell of no known model',
                'money',
                'Cells whose model has no price: for one of 3 Ah, in proportion to what it holds.',
                self::CELL,
                '',
                0,
                self::MONEY_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'board_cents',
                'money',
                'A new board',
                'money',
                'Quotes that take one.',
                self::BOARD,
                '',
                0,
                self::MONEY_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'strip_cents',
                'money',
                'Strip, insulators and leads, a cell',
                'money',
                'Quotes in which cells are joined.',
                self::STRIP,
                '',
                0,
                self::MONEY_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'new_per_wh_cents',
                'money',
                'A new pack, per Wh',
                'decimal',
                'What a repair is compared with, where the pack model has no price of its own; none: not compared.',
                null,
                'cents',
                0,
                self::WH_MAX,
                source: self::HOUSE,
            ),
            new Setting(
                'scrap_cost_percent',
                'money',
                'Scrap line: cost',
                'percent',
                'A repair over this share of a new pack is advised against.',
                self::SCRAP_PERCENT,
                '%',
                1,
                self::PERCENT_MAX,
                source: 'handbook "Repair options"',
            ),
            new Setting(
                'scrap_capacity_percent',
                'money',
                'Scrap line: capacity',
                'percent',
                'A repair that brings less than this share of the label is advised against.',
                self::SCRAP_PERCENT,
                '%',
                0,
                self::PERCENT_MAX,
                source: 'handbook "Repair options"',
            ),

            new Setting(
                'recovery_school',
                'schools',
                'Deep-discharged groups',
                'choice',
                'How near the floor a recovery is still planned, and what the plan says is this shop\'s way.',
                'A',
                choices: ['A' => 'recover slowly, group by group, then prove it', 'B' => 'replace anything near the floor'],
                source: self::SCHOOLS,
            ),
            new Setting(
                'bypass_school',
                'schools',
                'A whole pack past its board',
                'choice',
                'Whether a senior may start a charge that the board does not see. Refused otherwise, whoever asks.',
                'A',
                choices: ['A' => 'no: groups charge unseen', 'B' => 'a logged exception: every group watched, low current, attended'],
                source: self::SCHOOLS,
            ),
            new Setting(
                'scope_school',
                'schools',
                'What is replaced',
                'choice',
                'What the plan says is this shop\'s way, on each option.',
                'A',
                choices: ['A' => 'the whole group, same model and similar health', 'B' => 'only the faulty cell, when the rest prove good'],
                source: self::SCHOOLS,
            ),
            new Setting(
                'leak_school',
                'schools',
                'A leaking group',
                'choice',
                'What the plan says is this shop\'s way, on each option.',
                'A',
                choices: ['A' => 'replaced', 'B' => 'kept in service with a computed top-up, told and signed for'],
                source: self::SCHOOLS,
            ),
            new Setting(
                'phosphate_school',
                'schools',
                'Phosphate full voltage',
                'choice',
                'The voltage to which balancing takes phosphate groups.',
                'A',
                choices: ['A' => '3.65 V to a tail of C/20', 'B' => '3.45-3.55 V, longer hold'],
                source: self::SCHOOLS,
            ),
            new Setting(
                'matching_school',
                'schools',
                'Matching',
                'choice',
                'How cells are dealt into groups when Match is opened.',
                'equal',
                choices: ['equal' => 'equal group totals', 'like' => 'like with like, best cells together'],
                source: self::SCHOOLS,
            ),

            new Setting(
                'proof_spread_mv',
                self::LIMITS,
                'Spread of the full pack at rest',
                'decimal',
                'The proof: groups further apart are not released.',
                VerdictLimits::GOOD_V * self::MILLI,
                'mV',
                VerdictLimits::MATCHED_V * self::MILLI,
                VerdictLimits::GOOD_V * self::MILLI,
                source: 'handbook "Acceptance"',
            ),
            new Setting(
                'proof_capacity_percent',
                self::LIMITS,
                'Capacity, of the label',
                'percent',
                'The proof, where no capacity was quoted: a pack that gives less is not released.',
                ProofLimits::CAPACITY_SHARE * self::PERCENT_MAX,
                '%',
                ProofLimits::CAPACITY_SHARE * self::PERCENT_MAX,
                self::PERCENT_MAX,
                source: 'handbook "Acceptance"',
            ),
            new Setting(
                'proof_warmer_k',
                self::LIMITS,
                'Warmer than the room',
                'decimal',
                'The proof: a pack that warms more under load is not released.',
                ProofLimits::WARMER_K,
                'K',
                1,
                ProofLimits::WARMER_K,
                source: 'handbook "Acceptance"',
            ),
            new Setting(
                'proof_leak_percent',
                self::LIMITS,
                'Loss in a month',
                'percent',
                'The proof: a group that loses more is not released.',
                VerdictLimits::LEAK_A_MONTH * self::PERCENT_MAX,
                '%',
                1,
                VerdictLimits::LEAK_A_MONTH * self::PERCENT_MAX,
                source: 'handbook "Acceptance"',
            ),

            new Setting(
                'idle_minutes',
                'doors',
                'A session without a touch ends after',
                'whole',
                'Who walks away from the bench is signed out.',
                self::IDLE_MAX,
                'min',
                self::IDLE_LEAST,
                self::IDLE_MAX,
                source: self::ASVS_SESSIONS,
            ),
            new Setting(
                'absolute_hours',
                'doors',
                'A session ends at the latest after',
                'whole',
                'The password is typed once in that time at least.',
                self::HOURS_MAX,
                'h',
                1,
                self::HOURS_MAX,
                source: self::ASVS_SESSIONS,
            ),
            new Setting(
                'owner_second_factor',
                'doors',
                'Owners need a second factor',
                'switch',
                'An owner without one sets it up at the next sign-in, before anything else.',
                false,
                source: 'OWASP ASVS 4.0.3, 2.8',
            ),
            new Setting(
                'instrument_networks',
                'doors',
                'Addresses of instruments',
                'lines',
                'Instruments are spoken to at these addresses and no others, a line each: 192.168.20.14, or 192.168.20.0/24.',
                '',
                source: self::HOUSE,
            ),

            new Setting(
                'mail_sender',
                'messages',
                'Sent from',
                'text',
                'The address that owners see and answer to.',
                null,
                source: self::HOUSE,
            ),
            new Setting(
                'mail_host',
                'messages',
                'Mail server',
                'text',
                'Where messages are handed in; none: they are copied by hand.',
                null,
                source: self::HOUSE,
            ),
            new Setting(
                'mail_port',
                'messages',
                'Its port',
                'whole',
                'Where that server takes messages.',
                self::SUBMISSION,
                '',
                1,
                self::PORT_MAX,
                source: 'RFC 6409',
            ),
            new Setting(
                'mail_security',
                'messages',
                'How it is spoken to',
                'choice',
                'Without cover only on this machine or a network of your own.',
                'starttls',
                choices: ['starttls' => 'TLS asked for', 'tls' => 'TLS from the first byte', 'none' => 'without cover'],
                source: 'RFC 8314',
            ),
            new Setting('mail_user', 'messages', 'User name there', 'text', 'None: nobody signs in.', null, source: self::HOUSE),
            ...array_map(
                fn(MessageKind $k): Setting => new Setting(
                    $k->setting(),
                    'messages',
                    'Sent by itself: ' . lcfirst($k->title()),
                    'switch',
                    'Only to owners who have agreed to it; else it waits under Messages.',
                    false,
                    source: self::HOUSE,
                ),
                MessageKind::cases(),
            ),
        ];
    }

    public function get(string $key): string|int|float|bool|null
    {
        $setting = self::all()[$key] ?? throw new \LogicException("there is no setting $key");
        $value = $this->stored[$key] ?? null;

        // What was stored before a bound moved does not count for more than the default.
        return is_scalar($value) && $setting->refuses($value) === null ? $value : $setting->default;
    }

    /** Whether the shop has said something of its own. */
    public function differs(string $key): bool
    {
        return $this->get($key) !== self::all()[$key]->default;
    }

    public function int(string $key): int
    {
        return (int) $this->get($key);
    }

    public function float(string $key): ?float
    {
        $value = $this->get($key);

        return is_int($value) || is_float($value) ? (float) $value : null;
    }

    public function text(string $key): string
    {
        return (string) $this->get($key);
    }

    public function on(string $key): bool
    {
        return $this->get($key) === true;
    }

    /** @return array<string, string|int|float|bool|null> by key */
    public function values(): array
    {
        return array_map(fn(Setting $s): string|int|float|bool|null => $this->get($s->key), self::all());
    }
}
