<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\People\KeepOwnKeys;
use App\Http\Requests\CodeBody;
use App\Http\Requests\FactorBody;
use App\Http\Requests\PasswordBody;
use App\Http\Views\PersonView;
use App\Models\SignIn;
use App\Security\Sessions;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** One's own keys. */
final class MeController extends Controller
{
    public function password(PasswordBody $request, KeepOwnKeys $keep): JsonResponse
    {
        /** @var SignIn $row */
        $row = $request->attributes->get('sign-in');
        $keep->password($this->person(), $row, $request->string('current')->value(), $request->string('password')->value());

        return $this->me($request);
    }

    public function code(CodeBody $request, KeepOwnKeys $keep): JsonResponse
    {
        $keep->code($this->person(), $request->string('code')->value());

        return $this->me($request);
    }

    public function beginFactor(KeepOwnKeys $keep): JsonResponse
    {
        return new JsonResponse($keep->beginSecondFactor($this->person()));
    }

    public function confirmFactor(FactorBody $request, KeepOwnKeys $keep): JsonResponse
    {
        return new JsonResponse(['recovery_codes' => $keep->confirmSecondFactor($this->person(), $request->string('code')->value())]);
    }

    public function endFactor(Request $request, KeepOwnKeys $keep): JsonResponse
    {
        $keep->endSecondFactor($this->person(), $this->person());

        return $this->me($request);
    }

    private function me(Request $request): JsonResponse
    {
        return new JsonResponse(PersonView::of($this->person()->refresh(), Sessions::current($request)));
    }
}
