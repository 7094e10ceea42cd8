<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepMailPassword;
use App\Actions\OwnerMessages;
use App\Http\Requests\AgreeMessageBody;
use App\Http\Requests\MailPasswordBody;
use App\Http\Requests\MessageDoneBody;
use App\Models\Customer;
use App\Models\Message;
use App\StandIn\Mailbox;
use App\Support\OwnerMail;
use Heartwood\Core\Service\MessageKind;
use Illuminate\Database\Eloquent\Collection;
use Illuminate\Http\JsonResponse;
use Illuminate\Support\Facades\DB;

/** Messages to owners of packs in service: what waits, what went, who agreed to what, and the mail server. */
final class MessageController extends Controller
{
    private const SHOWN = 100;

    public function index(): JsonResponse
    {
        $shop = $this->person()->workshop;
        $open = self::rows($shop->id, ['prepared', 'sending']);
        $done = self::rows($shop->id, ['sent', 'copied', 'dropped']);
        $customers = $open->pluck('customer_id')->merge($done->pluck('customer_id'))->unique();
        $agreed = OwnerMessages::agreements($customers->all());
        $row = fn(Message $m): array => [
            'id' => $m->id,
            'pack_id' => $m->pack_id,
            'pack' => $m->pack->name,
            'customer_id' => $m->customer_id,
            'customer' => $m->customer->name,
            'phone' => (string) $m->customer->phone,
            'kind' => $m->kind,
            'title' => MessageKind::from($m->kind)->title(),
            'address' => $m->state === 'sent' ? $m->address : OwnerMessages::address($m),
            'subject' => $m->subject,
            'body' => $m->body,
            'state' => $m->state,
            'error' => $m->error,
            'agreed' => $agreed["{$m->customer_id} {$m->kind}"] ?? null,
            'prepared_at' => $m->prepared_at->toIso8601ZuluString(),
            'done_at' => $m->done_at?->toIso8601ZuluString(),
            'by' => $m->person?->name,
        ];

        return new JsonResponse([
            // Whoever is to stop is told first.
            'open' => $open->sortBy(fn(Message $m): int => $m->kind === MessageKind::Stop->value ? 0 : 1)->map($row)->values()->all(),
            'done' => $done->map($row)->values()->all(),
            'mail' => OwnerMail::isSet($shop),
            'simulated' => (bool) $shop->demo,
            'secret' => DB::table('mail_secrets')->where('workshop_id', $shop->id)->exists(),
            'kinds' => array_map(
                fn(MessageKind $k): array => [
                    'kind' => $k->value,
                    'title' => $k->title(),
                    'by_itself' => $shop->said()->on($k->setting()),
                ],
                MessageKind::cases(),
            ),
        ]);
    }

    public function send(Message $message, OwnerMessages $messages): JsonResponse
    {
        $messages->send($this->person(), $message);

        return $this->index();
    }

    public function done(MessageDoneBody $request, Message $message, OwnerMessages $messages): JsonResponse
    {
        $messages->done($this->person(), $message, (string) $request->validated()['as']);

        return $this->index();
    }

    public function agree(AgreeMessageBody $request, Customer $customer, OwnerMessages $messages): JsonResponse
    {
        $in = $request->validated();
        $messages->agree($this->person(), $customer, MessageKind::from((string) $in['kind']), (bool) $in['agreed'], (string) $in['how']);

        return $this->index();
    }

    public function password(MailPasswordBody $request, KeepMailPassword $keep): JsonResponse
    {
        $keep->keep($this->person(), (string) ($request->validated()['password'] ?? ''));

        return $this->index();
    }

    /** A message to whoever asks, so that the settings are known to be right. */
    public function test(): JsonResponse
    {
        $person = $this->person();
        OwnerMail::send($person->workshop, $person->email, OwnerMail::words('test.subject'), OwnerMail::words('test.body'));

        return new JsonResponse(['to' => $person->email]);
    }

    /** What the simulated mail server of a demo took in. */
    public function mailbox(): JsonResponse
    {
        abort_unless((bool) $this->person()->workshop->demo, 404);

        return new JsonResponse(['letters' => array_slice(Mailbox::letters(dirname(storage_path()) . '/mailbox'), 0, self::SHOWN)]);
    }

    /**
     * @param  list<string>  $states
     * @return Collection<int, Message>
     */
    private static function rows(int $workshop, array $states): Collection
    {
        return Message::query()
            ->with(['pack', 'customer', 'person'])
            ->where('workshop_id', $workshop)
            ->whereIn('state', $states)
            ->orderByDesc('id')
            ->limit(self::SHOWN)
            ->get();
    }
}
