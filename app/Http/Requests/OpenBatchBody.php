<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Batch\ArrivalList;
use Illuminate\Validation\ValidationException;

/** A lot as it comes in: what its packs are, and a list of them. */
final class OpenBatchBody extends Body
{
    private const SUPPLIES = 1;

    private const PLACES = 12;

    private const HOURS = 2.0;

    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => 'required|string|max:80',
            'customer' => 'required|string|max:160',
            'contact' => 'nullable|string|max:190',
            'complaint' => 'nullable|string|max:2000',
            'pack' => 'required|array',
            'pack_model_id' => 'nullable|integer',
            'model_name' => 'nullable|string|max:80',
            'looked' => 'required|boolean',
            'list' => 'required|string|max:40000',
            ...EditBatchBody::figures('sometimes|'),
        ];
    }

    /**
     * @return array{name: string, customer: string, contact: string, pack: array<string, mixed>, pack_model_id: int|null,
     *     model_name: string, complaint: string, looked: bool, supplies: int, places: int, hours_a_day: float, paid_cents: int|null,
     *     sells_cents: int|null, rows: list<array{serial: string, volts: float|null, signs: list<string>, note: string}>}
     */
    public function said(): array
    {
        $in = $this->validated();
        $list = ArrivalList::of((string) $in['list']);
        if ($list->wrong !== []) {
            throw ValidationException::withMessages(['list' => implode(' ', array_slice($list->wrong, 0, 5))]);
        }
        $text = fn(string $k): string => trim((string) ($in[$k] ?? ''));

        return [
            'name' => $text('name'),
            'customer' => $text('customer'),
            'contact' => $text('contact'),
            'complaint' => $text('complaint'),
            'pack' => (array) $in['pack'],
            'pack_model_id' => isset($in['pack_model_id']) ? (int) $in['pack_model_id'] : null,
            'model_name' => $text('model_name') === '' ? $text('name') : $text('model_name'),
            'looked' => (bool) $in['looked'],
            'supplies' => (int) ($in['supplies'] ?? self::SUPPLIES),
            'places' => (int) ($in['places'] ?? self::PLACES),
            'hours_a_day' => (float) ($in['hours_a_day'] ?? self::HOURS),
            'paid_cents' => isset($in['paid_cents']) ? (int) $in['paid_cents'] : null,
            'sells_cents' => isset($in['sells_cents']) ? (int) $in['sells_cents'] : null,
            'rows' => $list->rows,
        ];
    }
}
