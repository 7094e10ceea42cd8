<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Models\Consent;
use Heartwood\Core\Consent\Seal;
use Heartwood\Core\Consent\Term;
use Illuminate\Validation\Rule;

/** What a customer agreed to; a signature as the strokes that were drawn, in shares of the field. */
final class ConsentBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'terms' => 'required|array|max:10',
            'terms.*' => [Rule::enum(Term::class)],
            'seal' => ['required', Rule::enum(Seal::class)],
            'ceiling_cents' => 'nullable|integer|between:0,100000000',
            'how' => ['required', Rule::in(Consent::HOW)],
            'said_by' => 'required|string|max:160',
            'may_call' => 'nullable|string|max:190',
            'signature' => 'nullable|array|max:200',
            'signature.*' => 'array|max:2000',
            'signature.*.*' => 'array|size:2',
            'signature.*.*.*' => 'numeric|between:0,1',
        ];
    }
}
