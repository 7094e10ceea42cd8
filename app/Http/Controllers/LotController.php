<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepLot;
use App\Http\Requests\LotBody;
use App\Models\Lot;
use App\Read\Lots;
use Illuminate\Http\JsonResponse;

/** Lots, and what their tested cells tell of the rest; deliveries taken or sent back. */
final class LotController extends Controller
{
    public function index(): JsonResponse
    {
        return new JsonResponse(Lots::of($this->person()->workshop_id));
    }

    public function update(LotBody $request, Lot $lot, KeepLot $keep): JsonResponse
    {
        $in = $request->validated();
        $keep->handle($this->person(), $lot, $in['state'], $in['reason'] ?? '', $this->version($request));

        return $this->index();
    }
}
