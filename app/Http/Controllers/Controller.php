<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Person;
use Illuminate\Auth\AuthenticationException;
use Illuminate\Http\Request;

abstract class Controller
{
    protected function person(): Person
    {
        $person = request()->user();
        if (!($person instanceof Person) || !$person->active) {
            throw new AuthenticationException();
        }

        return $person;
    }

    /** The version that an edit was made on. */
    protected function version(Request $request): ?string
    {
        return $request->headers->get('If-Match');
    }
}
