<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepCustomer;
use App\Actions\Refused;
use App\Actions\Version;
use App\Http\Requests\CustomerBody;
use App\Http\Requests\FindCustomerBody;
use App\Http\Requests\ForgetBody;
use App\Http\Requests\MergeBody;
use App\Http\Requests\NewCustomerBody;
use App\Http\Views\CustomerView;
use App\Models\Customer;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;

/** Customers: found, seen with all that is theirs, corrected, made one, handed out and forgotten. */
final class CustomerController extends Controller
{
    private const SHOWN = 200;

    public function index(FindCustomerBody $request): JsonResponse
    {
        $term = trim((string) ($request->validated()['q'] ?? ''));
        $found = Customer::matching($this->person()->workshop_id, $term)
            ->withCount(['jobs', 'jobs as open_count' => fn(Builder $q) => $q->where('status', 'open')])
            ->withMax('jobs', 'created_at')
            ->orderBy('name')
            ->limit(self::SHOWN + 1)
            ->get();

        return new JsonResponse([
            'customers' => $found
                ->take(self::SHOWN)
                ->map(
                    fn(Customer $c): array => [
                        'id' => $c->id,
                        'name' => $c->name,
                        'phone' => $c->phone,
                        'email' => $c->email,
                        'contact' => $c->contact,
                        'jobs' => $c->jobs_count,
                        'open' => $c->open_count,
                        'last_at' =>
                            $c->jobs_max_created_at === null
                                ? null
                                : \Carbon\CarbonImmutable::parse($c->jobs_max_created_at)->toIso8601ZuluString(),
                        'forgotten' => $c->forgotten_at !== null,
                    ],
                )
                ->all(),
            'more' => $found->count() > self::SHOWN,
        ]);
    }

    /** Somebody who has no pack here yet; whoever has that name already is the same. */
    public function store(NewCustomerBody $request, KeepCustomer $keep): JsonResponse
    {
        $in = $request->validated();
        $customer = $keep->open($this->person(), trim((string) $in['name']), trim((string) ($in['contact'] ?? '')));

        return new JsonResponse(['id' => $customer->id, 'name' => $customer->name], 201);
    }

    public function show(Customer $customer): JsonResponse
    {
        // A name that was merged away leads to where it went.
        $customer = $customer->merged_into === null ? $customer : Customer::query()->whereKey($customer->merged_into)->firstOrFail();

        return (new JsonResponse(CustomerView::of($customer)))->header('ETag', Version::tag($customer));
    }

    public function update(CustomerBody $request, Customer $customer, KeepCustomer $keep): JsonResponse
    {
        return $this->show(
            $keep->edit(
                $this->person(),
                $customer,
                array_map(fn(?string $v): string => trim((string) $v), $request->validated()),
                $this->version($request),
            ),
        );
    }

    public function merge(MergeBody $request, Customer $customer, KeepCustomer $keep): JsonResponse
    {
        $from = Customer::of($this->person()->workshop_id)->find($request->integer('from'));
        if ($from === null) {
            throw new Refused('invalid', 'There is no such customer.', 422, ['from' => 'Choose one from the list.']);
        }

        return $this->show($keep->merge($this->person(), $customer, $from, $this->version($request)));
    }

    public function forget(ForgetBody $request, Customer $customer, KeepCustomer $keep): JsonResponse
    {
        $photos = $request->validated()['photos'] ?? false;

        return $this->show($keep->forget($this->person(), $customer, $this->version($request), $photos));
    }

    /** All that is kept of one person, to hand out. */
    public function export(Customer $customer): Response
    {
        SecurityLog::add(SecurityEvent::Exported, $this->person(), null, ['customer' => $customer->id]);

        return new Response(
            (string) json_encode(CustomerView::of($customer), JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES),
            200,
            [
                'Content-Type' => 'application/json',
                'Content-Disposition' => "attachment; filename=\"heartwood-customer-{$customer->id}.json\"",
            ],
        );
    }
}
