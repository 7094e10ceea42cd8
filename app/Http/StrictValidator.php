<?php

declare(strict_types=1);

namespace App\Http;

use Illuminate\Validation\Validator;

/** The framework's rules, but that yes and no are no numbers: a rule behind them would be handed a truth for a count. */
final class StrictValidator extends Validator
{
    /** @param  array{0?: 'strict'}  $parameters */
    public function validateInteger($attribute, $value, array $parameters = [])
    {
        return !is_bool($value) && parent::validateInteger($attribute, $value, $parameters);
    }
}
