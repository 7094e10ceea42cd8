<?php

declare(strict_types=1);

use Heartwood\Core\Consent\Seal;
use Heartwood\Core\Consent\Term;
use Heartwood\Core\Consent\Words;

it('puts each thing that is agreed in words, with the seal and the ceiling, and nothing that is not', function (): void {
    expect(Words::of([Term::Opening, Term::DeadCells], Seal::Whole, '120.00 EUR'))
        ->toBe([
            'The case is opened. What its maker promises may end with that.',
            'The seal was whole when it came; it is broken by opening.',
            'Dead cells stay here and go to the recycler by the local rules.',
            'Work goes on up to 120.00 EUR; before more than that you are called.',
        ])
        ->and(Words::of([Term::LighterDuty, Term::Opening], Seal::None, null))
        ->toBe([
            'The case is opened. What its maker promises may end with that.',
            'It has no seal.',
            'It is used for less than it was made for, as told: less current, or less of its charge.',
            'Dead cells go back with it, packed as the local rules ask.',
            'Before any work that costs, you are called.',
        ]);
});

it('agrees to nothing without a word on opening it', function (): void {
    expect(fn() => Words::of([Term::DeadCells], Seal::None, null))->toThrow(InvalidArgumentException::class, 'it stays closed');
});

it('asks two things of every pack and three where they apply, each with a title and words of its own', function (): void {
    expect(array_filter(Term::cases(), fn(Term $t): bool => $t->isAlways()))
        ->toHaveCount(2)
        ->and(array_unique(array_map(fn(Term $t): string => $t->words(), Term::cases())))
        ->toHaveCount(count(Term::cases()))
        ->and(array_unique(array_map(fn(Term $t): string => $t->title(), Term::cases())))
        ->toHaveCount(count(Term::cases()))
        ->and(array_unique(array_map(fn(Seal $s): string => $s->words(), Seal::cases())))
        ->toHaveCount(3);
});
