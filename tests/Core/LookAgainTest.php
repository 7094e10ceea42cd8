<?php

declare(strict_types=1);

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Safety\Look;
use Heartwood\Core\Safety\LookAgain;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;

$nothing = fn(array $more = []): Fields => new Fields(
    $more +
        array_fill_keys(
            array_map(fn(Look $l): string => $l->value, array_filter(Look::cases(), fn(Look $l): bool => $l->fromOutside())),
            false,
        ),
);

it('owes a look before the first probe of an open pack, and again after a stop by volts or warmth', function () use ($nothing): void {
    $due = fn(Fields $seen, ?float $open, ?float $alarm, SafetyState $state = SafetyState::Clear): ?string => LookAgain::due(
        $seen,
        $state,
        42.0,
        $open,
        $alarm,
    )?->moment;
    expect($due(new Fields([]), null, null))
        ->toBe('never')
        ->and($due($nothing(['leaking' => null]), null, null))
        ->toBe('never')
        ->and($due($nothing(), null, null))
        ->toBe('open')
        ->and($due($nothing(), 100.0, null))
        ->toBeNull()
        ->and($due($nothing(), 100.0, 100.5))
        ->toBe('stopped')
        ->and($due($nothing(), 101.0, 100.5))
        ->toBeNull()
        ->and($due($nothing(), null, 100.5, SafetyState::Hold))
        ->toBe('stopped')
        ->and($due($nothing(), null, 100.5, SafetyState::Quarantine))
        ->toBeNull();
});

it('wants a second person from just over the limit of high voltage on', function () use ($nothing): void {
    $second = fn(float $v): ?bool => LookAgain::due($nothing(), SafetyState::Clear, $v, null, null)?->secondPerson;
    expect($second(60.0))->toBeFalse()->and($second(60.1))->toBeTrue()->and(VerdictLimits::HIGH_VOLTAGE_V)->toBe(60.0);
});

it('answers with "none of these" what can be seen, and leaves salt and the case open', function () use ($nothing): void {
    expect(LookAgain::unseen($nothing()))
        ->toBe(['salt_water', 'metal_case'])
        ->and(LookAgain::unseen($nothing(), true))
        ->toBe([])
        ->and(LookAgain::unseen(new Fields(['swollen' => false, 'metal_case' => true])))
        ->toHaveCount(9)
        ->and(LookAgain::isWhole($nothing()))
        ->toBeTrue()
        ->and(LookAgain::isWhole($nothing(['smell' => null])))
        ->toBeFalse()
        ->and(LookAgain::isWhole(new Fields(['smell' => true])))
        ->toBeTrue()
        ->and(LookAgain::isWhole(new Fields(['metal_case' => true])))
        ->toBeFalse();
});

it('lets a calliper correct the eye within the note, in the same entry, and never over it', function (): void {
    $kept = fn(float $mm): mixed => Triage::measured(['swollen' => true, 'thickness_mm' => $mm, 'drawn_thickness_mm' => 10.0])['swollen'];
    expect($kept(10.29))
        ->toBeFalse()
        ->and($kept(10.3))
        ->toBeFalse()
        ->and($kept(10.31))
        ->toBeTrue()
        ->and(Triage::measured(['swollen' => true])['swollen'])
        ->toBeTrue()
        ->and(Triage::measured(['swollen' => true, 'thickness_mm' => 9.0])['swollen'])
        ->toBeTrue()
        ->and(
            Triage::merge(['swollen' => true], Triage::measured(['swollen' => true, 'thickness_mm' => 10.1, 'drawn_thickness_mm' => 10.0])),
        )
        ->toMatchArray(['swollen' => true]);
    $rules = fn(float $mm): array => Triage::assess(new Fields(['thickness_mm' => $mm, 'drawn_thickness_mm' => 10.0]), [], 42.0)->rules;
    expect($rules(10.2)[0])
        ->toBe('bulges 2.0 % over its drawing: up to 3 % is a note, to be measured again')
        ->and($rules(10.0))
        ->toBe([])
        ->and($rules(10.31))
        ->toBe([]);
});
