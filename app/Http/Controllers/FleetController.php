<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Requests\FleetBody;
use App\Models\Customer;
use App\Read\OwnersFleet;
use Illuminate\Http\JsonResponse;

/** All packs of one owner side by side. */
final class FleetController extends Controller
{
    public function show(FleetBody $request, Customer $customer): JsonResponse
    {
        $in = $request->validated();
        $number = fn(string $key): ?float => isset($in[$key]) ? (float) $in[$key] : null;

        return new JsonResponse(OwnersFleet::of($customer, $number('supply_a'), $number('lead_weeks'), $number('level')));
    }
}
