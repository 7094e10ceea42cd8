<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;

/** What a write may bring. Who may write is the route's own policy; the words of errors are the screens'. */
abstract class Body extends FormRequest
{
    public function authorize(): bool
    {
        return true;
    }

    /** @return array<string, mixed> */
    abstract public function rules(): array;
}
