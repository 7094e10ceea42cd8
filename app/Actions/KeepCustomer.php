<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Batch;
use App\Models\Customer;
use App\Models\Job;
use App\Models\Pack;
use App\Models\PackLink;
use App\Models\PackOwner;
use App\Models\Person;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use App\Support\PhotoStore;
use Illuminate\Support\Facades\DB;

/** What is known of a customer: corrected, doubles made one, and forgotten when somebody asks for it. */
final class KeepCustomer
{
    /** What is about the person and not about a pack. */
    private const PERSONAL = ['contact', 'phone', 'email', 'address', 'agreements', 'notes'];

    /** Somebody new, or who is known by that name already. */
    public function open(Person $person, string $name, string $contact): Customer
    {
        return DB::transaction(function () use ($person, $name, $contact): Customer {
            $customer = Customer::named($person->workshop_id, $name, $contact);
            if ($customer->wasRecentlyCreated) {
                EventLog::add($person, null, EventKind::CustomerEdited, ['customer_id' => $customer->id, 'fields' => ['name']]);
            }

            return $customer;
        });
    }

    /** @param  array<string, string>  $data */
    public function edit(Person $person, Customer $customer, array $data, ?string $version): Customer
    {
        return DB::transaction(function () use ($person, $customer, $data, $version): Customer {
            $customer = self::live(Version::lock($customer, $version, array_keys($data)));
            if (
                isset($data['name']) &&
                Customer::query()
                    ->where('workshop_id', $customer->workshop_id)
                    ->where('name', $data['name'])
                    ->where('id', '!=', $customer->id)
                    ->exists()
            ) {
                throw new Refused('same-name', 'There is a customer of this name already.', 422, [
                    'name' => 'There is a customer of this name already: merge the two, or tell them apart by name.',
                ]);
            }
            $customer->fill($data);
            $customer->version++;
            $customer->save();
            // Which fields, never what stood there: a log that cannot be altered keeps nobody's address.
            EventLog::add($person, null, EventKind::CustomerEdited, ['customer_id' => $customer->id, 'fields' => array_keys($data)]);

            return $customer;
        });
    }

    /** Makes one of two: jobs move, what the first does not know is taken from the second, whose name still leads here. */
    public function merge(Person $person, Customer $into, Customer $from, ?string $version): Customer
    {
        if ($into->is($from)) {
            throw new Refused('same', 'These are one customer already.', 422, ['from' => 'Choose another one.']);
        }

        return DB::transaction(function () use ($person, $into, $from, $version): Customer {
            // Always in the order of their numbers: two who merge the same two the other way round wait, and do not lock one another out.
            Customer::query()
                ->whereIn('id', [$into->id, $from->id])
                ->orderBy('id')
                ->lockForUpdate()
                ->get();
            $into = self::live(Version::lock($into, $version, ['name']));
            $from = self::live($from->refresh());
            foreach (self::PERSONAL as $field) {
                $both = array_values(array_unique(array_filter([$into->{$field}, $from->{$field}], fn(string $t): bool => $t !== '')));
                $into->{$field} = in_array($field, ['agreements', 'notes'], true) ? implode("\n", $both) : $both[0] ?? '';
            }
            // What both knew differently is not lost.
            $other = array_filter(
                array_map(fn(string $f): string => $from->{$f} !== '' && $from->{$f} !== $into->{$f} ? "$f {$from->{$f}}" : '', [
                    'phone',
                    'email',
                    'address',
                ]),
            );
            if ($other !== []) {
                $into->notes = trim($into->notes . "\nOf {$from->name}: " . implode(', ', $other));
            }
            $into->version++;
            $into->save();
            Job::query()
                ->where('customer_id', $from->id)
                ->update(['customer_id' => $into->id]);
            foreach ([Pack::class, PackOwner::class, Batch::class] as $of) {
                $of::query()
                    ->where('customer_id', $from->id)
                    ->update(['customer_id' => $into->id]);
            }
            Customer::query()
                ->where('merged_into', $from->id)
                ->update(['merged_into' => $into->id]);
            $from->fill(array_fill_keys(self::PERSONAL, ''));
            $from->merged_into = $into->id;
            $from->version++;
            $from->save();
            EventLog::add($person, null, EventKind::CustomersMerged, ['from' => $from->id, 'into' => $into->id]);
            SecurityLog::add(SecurityEvent::CustomersMerged, $person, null, ['from' => $from->id, 'into' => $into->id]);

            return $into;
        });
    }

    /** Name and contact go, of the customer and of every name that leads there; the technical record of the packs stays. */
    public function forget(Person $person, Customer $customer, ?string $version, bool $photos): Customer
    {
        $gone = [];
        $customer = DB::transaction(function () use ($person, $customer, $version, $photos, &$gone): Customer {
            $customer = self::live(Version::lock($customer, $version, ['name']));
            foreach ([$customer, ...Customer::query()->where('merged_into', $customer->id)->get()] as $row) {
                $row->fill(['name' => "Forgotten customer {$row->id}", 'forgotten_at' => now()] + array_fill_keys(self::PERSONAL, ''));
                $row->version++;
                $row->save();
            }
            $jobs = Job::query()
                ->whereIn('customer_id', Customer::query()->whereKey($customer->id)->orWhere('merged_into', $customer->id)->select('id'))
                ->pluck('id');
            // The words that were agreed stay, and not who said them.
            DB::table('consent_people')
                ->whereIn('consent_id', DB::table('consents')->whereIn('job_id', $jobs)->select('id'))
                ->update(['said_by' => 'The customer', 'may_call' => '', 'signature' => null]);
            if ($photos) {
                $theirs = DB::table('photos')->whereIn('job_id', $jobs);
                $gone = (clone $theirs)->pluck('sha256')->all();
                DB::table('teardown_steps')
                    ->whereIn('photo_id', (clone $theirs)->select('id'))
                    ->update(['photo_id' => null]);
                $theirs->delete();
            }
            // Whoever was forgotten sees their packs no more.
            PackLink::query()
                ->whereIn('pack_id', Pack::query()->where('customer_id', $customer->id)->select('id'))
                ->whereNull('ended_at')
                ->update(['ended_at' => now()]);
            // Answers that were kept for repeating may name the customer.
            DB::table('idempotency_keys')
                ->whereIn('person_id', Person::query()->where('workshop_id', $person->workshop_id)->select('id'))
                ->whereNotNull('status')
                ->delete();
            EventLog::add($person, null, EventKind::CustomerForgotten, ['customer_id' => $customer->id]);
            SecurityLog::add(SecurityEvent::CustomerForgotten, $person, null, ['customer' => $customer->id]);

            return $customer;
        });
        PhotoStore::drop(array_values($gone));

        return $customer;
    }

    private static function live(Customer $customer): Customer
    {
        if ($customer->forgotten_at !== null) {
            throw new Refused('forgotten', 'This customer was forgotten: nothing is kept of them but their packs.');
        }
        if ($customer->merged_into !== null) {
            throw new Refused('merged', 'This customer was merged into another: open that one.');
        }

        return $customer;
    }
}
