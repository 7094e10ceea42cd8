<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Limits\TrainerLimits;

/** One act of a round and its turn; what an act is, the contract says. */
final class TrainingActBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['id' => 'required|uuid', 'number' => 'required|integer|min:1|max:' . TrainerLimits::ACTS, 'act' => 'required|array'];
    }
}
