<?php

declare(strict_types=1);

use App\Security\SessionRows;
use Illuminate\Session\DatabaseSessionHandler;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Session;

/** @return array{0: int, 1: array<string, mixed>} writes, and the row as it is then */
function sessionAfter(Closure $work): array
{
    DB::flushQueryLog();
    DB::enableQueryLog();
    $work();
    $writes = array_filter(DB::getQueryLog(), fn(array $q): bool => preg_match('/^(insert|update|delete)/i', $q['query']) === 1);

    return [count($writes), (array) DB::table('sessions')->find('s1')];
}

it('is what keeps sessions here, and waits for the disk only for what is new or grows old', function (): void {
    $rows = fn(): SessionRows => new SessionRows(DB::connection(), 'sessions', 720, app());
    expect(Session::driver('database')->getHandler())->toBeInstanceOf(SessionRows::class);
    expect(sessionAfter(fn() => $rows()->write('s1', 'a'))[0])->toBe(1);
    $again = function (string $data) use ($rows): void {
        $one = $rows();
        $one->read('s1');
        $one->write('s1', $data);
    };
    expect(sessionAfter(fn() => $again('a'))[0])->toBe(0);
    [$n, $row] = sessionAfter(fn() => $again('b'));
    expect([$n, base64_decode($row['payload'])])->toBe([1, 'b']);
    foreach ([[SessionRows::AGAIN_S - 1, 0], [SessionRows::AGAIN_S, 1]] as [$age, $writes]) {
        $at = now()->timestamp - $age;
        $this->travelTo(now()->startOfSecond());
        DB::table('sessions')
            ->where('id', 's1')
            ->update(['last_activity' => now()->timestamp - $age]);
        [$n, $row] = sessionAfter(fn() => $again('b'));
        expect([$n, $row['last_activity'] > $at])->toBe([$writes, $writes === 1]);
    }
});

it('takes one that has grown old for none, and one that was ended for ended', function (): void {
    $one = new SessionRows(DB::connection(), 'sessions', 720, app());
    $one->write('s1', 'a');
    $one->destroy('s1');
    expect($one->read('s1'))->toBe('');
    $one->write('s1', 'a');
    DB::table('sessions')
        ->where('id', 's1')
        ->update(['last_activity' => now()->timestamp - 721 * 60]);
    $two = new SessionRows(DB::connection(), 'sessions', 720, app());
    expect([$two->read('s1'), $two instanceof DatabaseSessionHandler])->toBe(['', true]);
    $two->write('s1', 'b');
    expect((new SessionRows(DB::connection(), 'sessions', 720, app()))->read('s1'))->toBe('b');
});
