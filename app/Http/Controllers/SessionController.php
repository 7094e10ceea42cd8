<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Person;
use App\Policies\Rights;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Auth;
use Illuminate\Validation\ValidationException;

final class SessionController extends Controller
{
    public function show(): JsonResponse
    {
        return new JsonResponse(self::describe($this->person()));
    }

    public function store(Request $request): JsonResponse
    {
        $credentials = $request->validate(['email' => 'required|string|max:190', 'password' => 'required|string|max:190']);
        if (! Auth::attempt([...$credentials, 'active' => true], true)) {
            throw ValidationException::withMessages(['password' => 'Name and password do not match.']);
        }
        $request->session()->regenerate();

        return new JsonResponse(self::describe($this->person()));
    }

    public function destroy(Request $request): JsonResponse
    {
        Auth::logout();
        $request->session()->invalidate();
        $request->session()->regenerateToken();

        return new JsonResponse(['signed_out' => true]);
    }

    /** @return array<string, mixed> */
    private static function describe(Person $person): array
    {
        return [
            'id' => $person->id, 'name' => $person->name, 'email' => $person->email, 'role' => $person->role, 'rights' => Rights::of($person),
            'workshop' => ['name' => $person->workshop->name, 'currency' => $person->workshop->settings['currency'] ?? 'EUR'],
        ];
    }
}
