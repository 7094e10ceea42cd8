<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Person;
use Illuminate\Auth\AuthenticationException;

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
}
