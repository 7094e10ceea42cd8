<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Limits\TrainerLimits;

/** What the next round is to be: of a level, or a case of the shop. */
final class TrainingBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'level' => 'nullable|integer|min:1|max:' . TrainerLimits::LEVELS,
            'case' => 'nullable|integer|min:1|prohibits:level',
        ];
    }
}
