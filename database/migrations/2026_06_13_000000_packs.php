<?php

declare(strict_types=1);

use Carbon\CarbonImmutable;
use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/**
 * A pack has an identity of its own, over all its jobs and owners: a code of ours, who owns it, when it is read next. What is read of it
 * in service stays as it was written; what lets an owner read it is a hash.
 */
return new class extends Migration {
    /** As core has them when this was written. */
    private const PLAN_D = [3, 7, 14, 30, 90];

    private const ALPHABET = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';

    public function up(): void
    {
        if (!Schema::hasTable('packs')) {
            Schema::create('packs', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->string('code', 12);
                $t->string('serial', 80)->default('');
                $t->foreignId('customer_id')->constrained();
                $t->string('name', 160);
                $t->json('spec');
                $t->foreignId('watch_job_id')->nullable()->constrained('jobs');
                $t->dateTime('work_ended_at', 6)->nullable();
                $t->dateTime('next_at', 6)->nullable();
                $t->string('state', 12)->default('');
                $t->dateTime('stopped_at', 6)->nullable();
                $t->unsignedInteger('version')->default(1);
                $t->timestamps(6);
                $t->unique(['workshop_id', 'code']);
                $t->index(['workshop_id', 'next_at']);
                $t->index(['workshop_id', 'serial']);
                $t->index(['workshop_id', 'customer_id']);
            });
        }
        if (!Schema::hasColumn('jobs', 'pack_id')) {
            Schema::table('jobs', function (Blueprint $t): void {
                $t->foreignId('pack_id')->nullable()->constrained();
            });
        }
        if (!Schema::hasTable('pack_owners')) {
            Schema::create('pack_owners', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('pack_id')->constrained();
                $t->foreignId('customer_id')->constrained();
                $t->dateTime('from_at', 6);
                $t->dateTime('to_at', 6)->nullable();
                $t->index(['pack_id', 'from_at']);
            });
        }
        if (!Schema::hasTable('pack_links')) {
            Schema::create('pack_links', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('pack_id')->constrained();
                $t->char('hash', 64)->unique();
                $t->foreignId('opened_by')->constrained('people');
                $t->dateTime('opened_at', 6);
                $t->dateTime('ended_at', 6)->nullable();
                $t->dateTime('used_at', 6)->nullable();
                $t->unsignedInteger('entries')->default(0);
                $t->index(['pack_id', 'ended_at']);
            });
        }
        if (!Schema::hasTable('service_readings')) {
            Schema::create('service_readings', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('pack_id')->constrained();
                $t->dateTime('at', 6);
                $t->dateTime('told_at', 6);
                $t->string('source', 8);
                $t->foreignId('person_id')->nullable()->constrained('people');
                $t->foreignId('pack_link_id')->nullable()->constrained();
                $t->string('condition', 12);
                $t->double('soc')->nullable();
                $t->json('groups_v')->nullable();
                $t->double('highest_v')->nullable();
                $t->double('lowest_v')->nullable();
                $t->double('pack_v')->nullable();
                $t->double('resolution_v');
                $t->json('signs')->nullable();
                $t->json('answer')->nullable();
                $t->uuid('takes_back_id')->nullable();
                $t->string('note', 400)->default('');
                $t->index(['pack_id', 'at']);
            });
        }
        $this->identify();
    }

    public function down(): void
    {
        Schema::dropIfExists('service_readings');
        Schema::dropIfExists('pack_links');
        Schema::dropIfExists('pack_owners');
        if (Schema::hasColumn('jobs', 'pack_id')) {
            Schema::table('jobs', function (Blueprint $t): void {
                $t->dropConstrainedForeignId('pack_id');
            });
        }
        Schema::dropIfExists('packs');
    }

    /** A pack that went back is read again on the days that are still to come. */
    private function watch(int $pack, object $job): void
    {
        $gone = $job->status === 'returned' && $job->closed_at !== null;
        $next = null;
        foreach ($gone ? self::PLAN_D : [] as $day) {
            $at = CarbonImmutable::parse($job->closed_at)->addDays($day);
            $next ??= $at->isFuture() ? $at : null;
        }
        DB::table('packs')
            ->where('id', $pack)
            ->update([
                'watch_job_id' => $gone ? $job->id : null,
                'work_ended_at' => $gone ? $job->closed_at : null,
                'next_at' => $next,
                'state' => $gone ? 'cannot-tell' : '',
            ]);
    }

    /** Jobs that were here before: one pack for each serial of a workshop, and one for each job without. */
    private function identify(): void
    {
        $known = [];
        foreach (DB::table('jobs')->whereNull('pack_id')->orderBy('id')->lazy() as $job) {
            $serial = trim((string) $job->serial);
            $key = "{$job->workshop_id}/" . mb_strtolower($serial);
            $pack =
                $serial === ''
                    ? null
                    : $known[$key] ?? DB::table('packs')->where('workshop_id', $job->workshop_id)->where('serial', $serial)->value('id');
            $row = ['customer_id' => $job->customer_id, 'name' => $job->name, 'spec' => $job->pack, 'updated_at' => $job->created_at];
            if ($pack === null) {
                do {
                    $code = implode('', array_map(fn(): string => self::ALPHABET[random_int(0, 31)], range(1, 8)));
                } while (DB::table('packs')->where('workshop_id', $job->workshop_id)->where('code', $code)->exists());
                $pack = DB::table('packs')->insertGetId(
                    $row + ['workshop_id' => $job->workshop_id, 'code' => $code, 'serial' => $serial, 'created_at' => $job->created_at],
                );
                DB::table('pack_owners')->insert(['pack_id' => $pack, 'customer_id' => $job->customer_id, 'from_at' => $job->created_at]);
            } else {
                $owner = DB::table('packs')->where('id', $pack)->value('customer_id');
                if ($owner !== $job->customer_id) {
                    DB::table('pack_owners')
                        ->where('pack_id', $pack)
                        ->whereNull('to_at')
                        ->update(['to_at' => $job->created_at]);
                    DB::table('pack_owners')->insert([
                        'pack_id' => $pack,
                        'customer_id' => $job->customer_id,
                        'from_at' => $job->created_at,
                    ]);
                }
                DB::table('packs')->where('id', $pack)->update($row);
            }
            $known[$key] = $pack;
            $this->watch((int) $pack, $job);
            DB::table('jobs')
                ->where('id', $job->id)
                ->update(['pack_id' => $pack]);
        }
    }
};
