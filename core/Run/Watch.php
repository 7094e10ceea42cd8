<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** A run replayed without any instrument: what it ordered at every sample, and why it ended. */
final readonly class Watch
{
    /**
     * @param  list<array{at_s: float, output: string, v: float, a: float, phase: string}>  $orders  listed when they change
     * @param  array{at_s: float, why: string, text: string}|null  $end
     */
    private function __construct(public array $orders, public ?array $end, public float $ahIn) {}

    /**
     * @param  list<Sample>  $samples  in the order of their times
     * @param  list<Said>  $events  likewise; one of the same second is heard before the sample, one after the last sample not at all
     *
     * @throws CannotRun
     */
    public static function of(RunPlan $plan, array $samples, array $events): self
    {
        $run = new SupervisedRun($plan);
        $orders = [];
        $end = $last = null;
        $next = 0;
        foreach ($samples as $s) {
            while ($next < count($events) && $events[$next]->t <= $s->t) {
                $run->hear($events[$next++]);
            }
            $order = $run->take($s);
            if ($last === null || !$order->equals($last)) {
                $orders[] = [
                    'at_s' => $s->t,
                    'output' => $order->on ? 'on' : 'off',
                    'v' => round($order->volts, 4),
                    'a' => round($order->amps, 4),
                    'phase' => $order->phase->value,
                ];
                $last = $order;
            }
            $broken = $run->ended();
            if ($broken !== null) {
                $end = ['at_s' => $s->t, 'why' => $broken->why->value, 'text' => rtrim(ucfirst($broken->text), '.') . '.'];
                break;
            }
        }

        return new self($orders, $end, $run->ahIn());
    }

    /** @return array<string, mixed> a `heartwood.watch-result` */
    public function toArray(): array
    {
        return [
            'format' => 'heartwood.watch-result',
            'version' => 1,
            'orders' => $this->orders,
            'end' => $this->end,
            'ah_in' => round($this->ahIn, 5),
        ];
    }
}
