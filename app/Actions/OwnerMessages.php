<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Customer;
use App\Models\Message;
use App\Models\MessageConsent;
use App\Models\Pack;
use App\Models\Person;
use App\Models\Workshop;
use App\Read\Passport;
use App\Support\OwnerMail;
use Carbon\CarbonImmutable;
use Heartwood\Core\Service\MessageKind;
use Illuminate\Support\Facades\DB;

/**
 * Texts to owners about packs in service: prepared when something is due, let go when it no longer is, sent to those alone who have agreed
 * to it, once.
 */
final class OwnerMessages
{
    /** Packs that one pass looks at. */
    private const AT_ONCE = 1000;

    public function __construct(private readonly int $atOnce = self::AT_ONCE) {}

    /** Messages that one pass sends: a slow mail server is not to hold up the rest for long. */
    private const SENT_AT_ONCE = 5;

    /** Tries at a message that no mail server takes, and minutes between them at first. */
    private const TRIES = 5;

    private const AGAIN_MIN = 5;

    /** @var array<int, int> by workshop: the pack after which the next pass begins, so that every one has its turn */
    private array $after = [];

    /** Prepares what is due, lets go what is not any more. @return int how many are new */
    public function prepare(Workshop $shop): int
    {
        $now = CarbonImmutable::now();
        $new = 0;
        $this->letGo($shop, $now);
        $due = Pack::query()
            ->with('customer')
            ->where('workshop_id', $shop->id)
            ->where('next_at', '<=', $now->format('Y-m-d H:i:s.u'))
            ->where('id', '>', $this->after[$shop->id] ?? 0)
            ->orderBy('id')
            ->limit($this->atOnce)
            ->get();
        $this->after[$shop->id] = $due->count() < $this->atOnce ? 0 : (int) $due->max('id');
        foreach ($due as $pack) {
            foreach (MessageKind::due($now, $pack->stopped_at, $pack->read_at, $pack->topup_at) as $m) {
                $new += $this->one($shop, $pack, $m['kind'], $m['about'], $now);
            }
        }

        return $new;
    }

    /** Sends by itself what the shop lets be sent to those who have agreed. @return int how many went */
    public function deliver(Workshop $shop): int
    {
        $said = $shop->said();
        $kinds = array_filter(MessageKind::cases(), fn(MessageKind $k): bool => $said->on($k->setting()));
        if ($kinds === [] || !OwnerMail::isSet($shop)) {
            return 0;
        }
        $sent = 0;
        $waiting = Message::query()
            ->where('workshop_id', $shop->id)
            ->where('state', 'prepared')
            ->where('tries', '<', self::TRIES)
            ->whereIn('kind', array_map(fn(MessageKind $k): string => $k->value, $kinds))
            ->with('customer')
            ->orderBy('id')
            ->limit(self::AT_ONCE)
            ->get();
        $agreed = self::agreements($waiting->pluck('customer_id')->all());
        foreach ($waiting as $m) {
            $again = $m->done_at?->addMinutes(self::AGAIN_MIN * 2 ** $m->tries);
            if (($again === null || $again->isPast()) && self::address($m) !== '' && ($agreed["$m->customer_id $m->kind"] ?? false)) {
                try {
                    $this->send(null, $m);
                    $sent++;
                } catch (Refused) {
                    // Kept with why, and tried again later; the others have their turn at the next pass.
                    break;
                }
                if ($sent >= self::SENT_AT_ONCE) {
                    break;
                }
            }
        }

        return $sent;
    }

    /**
     * @param  Person|null  $person  who sends it; null: by itself
     *
     * @throws Refused it is done already, nobody agreed to it, no address is known, or no mail server takes it
     */
    public function send(?Person $person, Message $message): Message
    {
        $to = self::address($message);
        // Said to be under way before it is, so that it never goes twice.
        $message = DB::transaction(function () use ($message, $to): Message {
            $m = Message::query()->lockForUpdate()->findOrFail($message->id);
            if ($m->state !== 'prepared') {
                throw new Refused('done', $m->state === 'sending' ? self::UNDER_WAY : 'This message is done: it does not go twice.');
            }
            if (!(self::agreements([$m->customer_id])["$m->customer_id $m->kind"] ?? false)) {
                throw new Refused('not-agreed', 'They have not agreed to be written to about this: ask them, and say so here.');
            }
            if ($to === '') {
                throw new Refused('no-address', 'No e-mail address is known: add it to the customer, or copy the message by hand.');
            }
            $m->update(['state' => 'sending', 'address' => $to, 'tries' => $m->tries + 1, 'done_at' => now()]);

            return $m;
        });
        try {
            OwnerMail::send(Workshop::query()->whereKey($message->workshop_id)->firstOrFail(), $to, $message->subject, $message->body);
        } catch (Refused $e) {
            $message->update(['state' => 'prepared', 'error' => mb_substr($e->getMessage(), 0, 300)]);
            throw $e;
        }
        $message->update(['state' => 'sent', 'error' => '', 'person_id' => $person?->id, 'done_at' => now()]);
        if ($person !== null) {
            EventLog::add($person, null, EventKind::MessageDone, ['message' => $message->id, 'as' => 'sent']);
        }

        return $message;
    }

    private const UNDER_WAY = 'It was being sent when something broke: look whether it came before you do anything else, then say so.';

    /** Copied by hand, or not wanted. */
    public function done(Person $person, Message $message, string $as): Message
    {
        return DB::transaction(function () use ($person, $message, $as): Message {
            $m = Message::query()->lockForUpdate()->findOrFail($message->id);
            if (!in_array($m->state, ['prepared', 'sending'], true)) {
                throw new Refused('done', 'This message is done already.');
            }
            // That it came is believed only of one that was under way.
            if ($as === 'sent' && $m->state !== 'sending') {
                throw new Refused('not-sent', 'It has not gone: send it, or copy it and say that you wrote by hand.');
            }
            $m->update(['state' => $as, 'person_id' => $person->id, 'done_at' => now()]);
            EventLog::add($person, null, EventKind::MessageDone, ['message' => $m->id, 'as' => $as]);

            return $m;
        });
    }

    /** What a customer agreed to, or does not any more: once per kind, with how it was said. */
    public function agree(Person $person, Customer $customer, MessageKind $kind, bool $agreed, string $how): void
    {
        DB::transaction(function () use ($person, $customer, $kind, $agreed, $how): void {
            MessageConsent::query()->create([
                'workshop_id' => $customer->workshop_id,
                'customer_id' => $customer->id,
                'kind' => $kind->value,
                'agreed' => $agreed,
                'how' => $how,
                'person_id' => $person->id,
                'at' => now(),
            ]);
            EventLog::add($person, null, EventKind::MessageAgreed, [
                'customer' => $customer->id,
                'kind' => $kind->value,
                'agreed' => $agreed,
            ]);
        });
    }

    /**
     * What these customers said last, by customer and kind ("12 overdue"); none where nobody asked.
     *
     * @param  array<array-key, mixed>  $customers
     * @return array<string, bool>
     */
    public static function agreements(array $customers): array
    {
        $last = MessageConsent::query()->selectRaw('max(id)')->whereIn('customer_id', $customers)->groupBy('customer_id', 'kind');
        $out = [];
        foreach (MessageConsent::query()->whereIn('id', $last)->get() as $c) {
            $out["$c->customer_id $c->kind"] = (bool) $c->agreed;
        }

        return $out;
    }

    /** Where it goes: as the customer stands now. */
    public static function address(Message $m): string
    {
        $known = trim((string) $m->customer->email);

        return filter_var($known, FILTER_VALIDATE_EMAIL) === false ? '' : $known;
    }

    private function one(Workshop $shop, Pack $pack, MessageKind $kind, string $about, CarbonImmutable $now): int
    {
        $words = [
            'pack' => $pack->name,
            'code' => Passport::code($pack->code),
            'workshop' => $shop->name,
            'date' => CarbonImmutable::parse($about)
                ->setTimezone($shop->said()->text('timezone'))
                ->format('j F Y'),
            'days' => (string) $pack->topup_every_d,
        ];

        return Message::query()->insertOrIgnore([
            'workshop_id' => $shop->id,
            'pack_id' => $pack->id,
            'customer_id' => $pack->customer_id,
            'kind' => $kind->value,
            'about' => $about,
            'subject' => mb_substr(OwnerMail::words("{$kind->value}.subject", $words), 0, 200),
            'body' => OwnerMail::words("{$kind->value}.body", $words),
            'state' => 'prepared',
            'prepared_at' => $now->format('Y-m-d H:i:s.u'),
        ]);
    }

    /** What was read, topped up, changed hands or came back since is not asked for any more. */
    private function letGo(Workshop $shop, CarbonImmutable $now): void
    {
        $open = Message::query()->with('pack')->where('workshop_id', $shop->id)->where('state', 'prepared')->orderBy('id')->lazyById();
        foreach ($open as $m) {
            $p = $m->pack;
            $still = array_filter(
                MessageKind::due($now, $p->stopped_at, $p->read_at, $p->topup_at),
                fn(array $d): bool => $d['kind']->value === $m->kind && $d['about'] === $m->about,
            );
            if ($still === [] || $p->customer_id !== $m->customer_id) {
                Message::query()
                    ->whereKey($m->id)
                    ->where('state', 'prepared')
                    ->update(['state' => 'dropped', 'error' => 'not due any more', 'done_at' => $now]);
            }
        }
    }
}
