<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\Claims;
use App\Actions\Refused;
use App\Http\RequestId;
use App\Models\Instrument;
use App\Models\Job;
use App\Watch\Door;
use App\Watch\Ticket;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Leave to look again and again; and the looks themselves, where no server in front answers them by itself (`bin/look.php`). */
final class WatchController extends Controller
{
    public function meter(Instrument $instrument, Job $job): JsonResponse
    {
        if ($instrument->kind !== 'meter') {
            throw new Refused('no-meter', "{$instrument->name} is no meter: choose one that is.", 422);
        }
        if (Claims::isTaken($instrument)) {
            throw new Refused('in-use', "{$instrument->name} is in use.");
        }
        $leave = [
            'name' => $instrument->name,
            'desk' => Claims::atDesk($instrument),
            'full_v' => PackSpec::from(new Fields($job->pack))->profile()->fullV,
        ];

        return new JsonResponse(['watch' => Ticket::give('meter', $leave, microtime(true)), 'lasts_s' => Ticket::LASTS_S]);
    }

    public function look(Request $request, string $what): JsonResponse
    {
        $in = $what === 'run' ? $request->query->all() : $request->json()->all();
        [$status, $says] = Door::answer($what, (string) $request->headers->get(Door::HEADER), $in, microtime(true));

        return new JsonResponse($status === 200 ? $says : $says + ['request' => RequestId::current()], $status);
    }
}
