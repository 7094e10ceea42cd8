<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepWall;
use App\Actions\TopUpInPlace;
use App\Contract\PackInput;
use App\Http\Requests\FleetBody;
use App\Http\Requests\ToppingBody;
use App\Http\Requests\ToppingEndBody;
use App\Http\Requests\ToppingJoinBody;
use App\Http\Requests\WallBody;
use App\Http\Requests\WallTextBody;
use App\Models\Customer;
use App\Models\Topping;
use App\Read\OwnersFleet;
use Heartwood\Core\Fleet\PastedWall;
use Illuminate\Http\JsonResponse;

/** All packs of one owner side by side: read as a wall, topped up where they stand. */
final class FleetController extends Controller
{
    public function show(FleetBody $request, Customer $customer): JsonResponse
    {
        $said = array_filter($request->validated(), fn(mixed $v): bool => $v !== null);
        $kind = isset($said['kind']) ? (string) $said['kind'] : null;

        return new JsonResponse(
            OwnersFleet::of($customer, array_map(fn(mixed $v): float => (float) $v, array_diff_key($said, ['kind' => 1])), $kind),
        );
    }

    /** A wall out of pasted text: computed only, nothing is written. */
    public function pasted(WallTextBody $request, Customer $customer): JsonResponse
    {
        $in = $request->validated();
        $wall = PastedWall::of((string) $in['text'], (string) $in['what'] === 'ah' ? 'ah' : 'volts');
        $known = KeepWall::known($customer);

        return new JsonResponse([
            'rows' => array_map(
                fn(array $r): array => [
                    'name' => $r['name'],
                    'soc' => $r['soc'],
                    'values' => $r['values'],
                    'resolution_v' => $r['resolution_v'],
                    'packs' => array_map(fn($p): int => $p->id, KeepWall::match($known, $r['name'])),
                ],
                $wall->rows,
            ),
            'wrong' => $wall->wrong,
            'notes' => $wall->notes,
        ]);
    }

    public function keep(WallBody $request, Customer $customer, KeepWall $keep): JsonResponse
    {
        $wall = $request->wall();
        if ($wall['pack'] !== null) {
            PackInput::check($wall['pack'], [], []);
        }
        $new = $keep->handle($this->person(), $customer, $wall);

        return new JsonResponse(['new' => $new] + OwnersFleet::of($customer), 201);
    }

    public function begin(ToppingBody $request, Customer $customer, TopUpInPlace $top): JsonResponse
    {
        $top->begin($this->person(), $customer, $request->said());

        return new JsonResponse(OwnersFleet::of($customer), 201);
    }

    public function end(ToppingEndBody $request, Topping $topping, TopUpInPlace $top): JsonResponse
    {
        $in = $request->validated();

        return $this->after($top->end($this->person(), $topping, (float) $in['group_v'], (float) $in['amps']));
    }

    public function join(ToppingJoinBody $request, Topping $topping, TopUpInPlace $top): JsonResponse
    {
        $in = $request->validated();

        return $this->after($top->join($this->person(), $topping, (float) $in['pack_v'], (float) $in['siblings_v'], (int) $in['siblings']));
    }

    private function after(Topping $topping): JsonResponse
    {
        return new JsonResponse(OwnersFleet::of($topping->pack->customer, [], OwnersFleet::kindOf($topping->pack)));
    }
}
