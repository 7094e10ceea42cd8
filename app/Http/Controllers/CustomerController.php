<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepCustomer;
use App\Actions\Refused;
use App\Actions\Version;
use App\Http\Requests\CustomerBody;
use App\Http\Requests\MergeBody;
use App\Http\Views\JobRow;
use App\Models\Customer;
use App\Models\Decision;
use App\Models\Job;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/** Customers: found, seen with all that is theirs, corrected, made one, handed out and forgotten. */
final class CustomerController extends Controller
{
    private const SHOWN = 200;

    public function index(Request $request): JsonResponse
    {
        $term = trim((string) ($request->validate(['q' => 'nullable|string|max:80'])['q'] ?? ''));
        $found = self::matching($this->person()->workshop_id, $term)->withCount(['jobs', 'jobs as open_count' => fn (Builder $q) => $q->where('status', 'open')])->withMax('jobs', 'created_at')
            ->orderBy('name')->limit(self::SHOWN + 1)->get();

        return new JsonResponse([
            'customers' => $found->take(self::SHOWN)->map(fn (Customer $c): array => [
                'id' => $c->id, 'name' => $c->name, 'phone' => $c->phone, 'email' => $c->email, 'contact' => $c->contact, 'jobs' => $c->jobs_count, 'open' => $c->open_count,
                'last_at' => $c->jobs_max_created_at === null ? null : \Carbon\CarbonImmutable::parse($c->jobs_max_created_at)->toIso8601ZuluString(), 'forgotten' => $c->forgotten_at !== null,
            ])->all(), 'more' => $found->count() > self::SHOWN,
        ]);
    }

    /** @return Builder<Customer> by name, number, address, or a name that was merged away */
    public static function matching(int $workshop, string $term): Builder
    {
        $q = Customer::of($workshop);
        if ($term === '') {
            return $q;
        }
        $like = '%'.addcslashes($term, '%_\\').'%';
        // A telephone number is found however its digits are set apart.
        $digits = (string) preg_replace('/\D+/', '', $term);

        return $q->where(function (Builder $w) use ($like, $digits, $workshop): void {
            foreach (['name', 'phone', 'email', 'contact', 'address'] as $field) {
                $w->orWhere($field, 'like', $like);
            }
            if (strlen($digits) >= 4) {
                $w->orWhereRaw("regexp_replace(phone, '[^0-9]', '') like ?", ["%$digits%"]);
            }
            $w->orWhereIn('id', Customer::query()->where('workshop_id', $workshop)->whereNotNull('merged_into')->where('name', 'like', $like)->select('merged_into'));
        });
    }

    public function show(Customer $customer): JsonResponse
    {
        return (new JsonResponse(self::view($customer)))->header('ETag', Version::tag($customer));
    }

    public function update(CustomerBody $request, Customer $customer, KeepCustomer $keep): JsonResponse
    {
        return $this->show($keep->edit($this->person(), $customer, array_map(fn (?string $v): string => trim((string) $v), $request->validated()), $request->header('If-Match')));
    }

    public function merge(MergeBody $request, Customer $customer, KeepCustomer $keep): JsonResponse
    {
        $from = Customer::of($this->person()->workshop_id)->find($request->integer('from'));
        if ($from === null) {
            throw new Refused('invalid', 'There is no such customer.', 422, ['from' => 'Choose one from the list.']);
        }

        return $this->show($keep->merge($this->person(), $customer, $from, $request->header('If-Match')));
    }

    public function forget(Request $request, Customer $customer, KeepCustomer $keep): JsonResponse
    {
        return $this->show($keep->forget($this->person(), $customer, $request->header('If-Match')));
    }

    /** All that is kept of one person, to hand out. */
    public function export(Customer $customer): Response
    {
        SecurityLog::add(SecurityEvent::Exported, $this->person(), null, ['customer' => $customer->id]);

        return new Response((string) json_encode(self::view($customer), JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), 200, [
            'Content-Type' => 'application/json', 'Content-Disposition' => "attachment; filename=\"heartwood-customer-{$customer->id}.json\"",
        ]);
    }

    /** @return array<string, mixed> */
    private static function view(Customer $customer): array
    {
        $jobs = Job::query()->with('customer')->where('customer_id', $customer->id)->orderByDesc('number')->get();
        $latest = Decision::query()->whereIn('id', Decision::query()->selectRaw('max(id)')->whereIn('job_id', $jobs->pluck('id'))->groupBy('job_id'))->get()->keyBy('job_id');
        $quoted = fn (Job $j): ?int => isset($latest[$j->id]) ? (int) $latest[$j->id]->quote['total_cents'] : null;
        $packs = $jobs->groupBy(fn (Job $j): string => $j->serial !== '' ? "serial {$j->serial}" : "name {$j->name}");
        $sum = fn (callable $of): int => (int) $jobs->filter($of)->sum($quoted);

        return [
            'id' => $customer->id, 'version' => Version::tag($customer), 'name' => $customer->name, 'contact' => $customer->contact, 'phone' => $customer->phone, 'email' => $customer->email, 'address' => $customer->address,
            'agreements' => $customer->agreements, 'notes' => $customer->notes, 'since' => $customer->created_at->toIso8601ZuluString(), 'forgotten_at' => $customer->forgotten_at?->toIso8601ZuluString(),
            'also' => Customer::query()->where('merged_into', $customer->id)->orderBy('name')->pluck('name')->all(),
            'jobs' => $jobs->map(fn (Job $j): array => JobRow::of($j) + ['complaint' => $j->complaint, 'quoted_cents' => $quoted($j), 'decided' => $latest[$j->id]->action ?? null, 'closed_at' => $j->closed_at?->toIso8601ZuluString()])->all(),
            'packs' => array_values($packs->map(fn ($of): array => ['name' => $of->first()->name, 'serial' => $of->first()->serial, 'jobs' => $of->pluck('number')->all()])->all()),
            'promises' => array_values($jobs->filter(fn (Job $j): bool => $j->status === 'open' && ($j->waits_until !== null || isset($latest[$j->id])))->map(fn (Job $j): array => [
                'job_id' => $j->id, 'number' => $j->number, 'what' => $latest[$j->id]->action ?? null, 'cents' => $quoted($j), 'until' => $j->waits_until?->toIso8601ZuluString(), 'for' => $j->waits_for,
            ])->all()),
            'money' => ['quoted_open_cents' => $sum(fn (Job $j): bool => $j->status === 'open'), 'returned_cents' => $sum(fn (Job $j): bool => $j->status === 'returned'), 'jobs_returned' => $jobs->where('status', 'returned')->count(), 'jobs_scrapped' => $jobs->where('status', 'scrapped')->count()],
        ];
    }
}
