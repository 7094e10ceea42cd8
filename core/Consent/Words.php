<?php

declare(strict_types=1);

namespace Heartwood\Core\Consent;

/** What was put to a customer, as it was put: kept word for word, so that later words never change what was agreed. */
final class Words
{
    /**
     * @param  list<Term>  $terms  those that were agreed to
     * @param  string|null  $ceiling  the price up to which work goes on without a call, with its currency; null: none was said
     * @return list<string>
     *
     * @throws \InvalidArgumentException opening it was not agreed to
     */
    public static function of(array $terms, Seal $seal, ?string $ceiling): array
    {
        if (!in_array(Term::Opening, $terms, true)) {
            throw new \InvalidArgumentException('Without a word on opening it nothing is agreed: it stays closed.');
        }
        $out = [];
        foreach (Term::cases() as $t) {
            if (in_array($t, $terms, true)) {
                $out[] = $t->words();
                if ($t === Term::Opening) {
                    $out[] = $seal->words();
                }
            }
        }
        if (!in_array(Term::DeadCells, $terms, true)) {
            $out[] = 'Dead cells go back with it, packed as the local rules ask.';
        }
        $out[] =
            $ceiling === null
                ? 'Before any work that costs, you are called.'
                : "Work goes on up to $ceiling; before more than that you are called.";

        return $out;
    }
}
