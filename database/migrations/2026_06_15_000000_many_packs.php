<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Many packs: what each group of a pack holds, groups topped up where they stand, and batches that are taken in together. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('pack_capacities')) {
            Schema::create('pack_capacities', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('pack_id')->constrained();
                $t->dateTime('at', 6);
                $t->dateTime('told_at', 6);
                $t->foreignId('person_id')->constrained('people');
                $t->json('groups_ah');
                $t->index(['pack_id', 'at']);
            });
        }
        if (!Schema::hasTable('toppings')) {
            Schema::create('toppings', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('pack_id')->constrained();
                $t->unsignedSmallInteger('group_no');
                $t->json('plan');
                $t->json('begun');
                $t->foreignId('begun_by')->constrained('people');
                $t->dateTime('begun_at', 6);
                $t->json('ended')->nullable();
                $t->foreignId('ended_by')->nullable()->constrained('people');
                $t->dateTime('ended_at', 6)->nullable();
                $t->json('joined')->nullable();
                $t->dateTime('joined_at', 6)->nullable();
                $t->index(['pack_id', 'begun_at']);
            });
        }
        if (!Schema::hasTable('batches')) {
            Schema::create('batches', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->string('name', 80);
                $t->foreignId('customer_id')->constrained();
                $t->foreignId('pack_model_id')->nullable()->constrained();
                $t->json('pack');
                $t->unsignedSmallInteger('supplies')->default(1);
                $t->unsignedSmallInteger('places')->default(12);
                $t->double('hours_a_day')->default(2);
                $t->unsignedInteger('paid_cents')->nullable();
                $t->unsignedInteger('sells_cents')->nullable();
                $t->double('margin_percent')->nullable();
                $t->foreignId('opened_by')->constrained('people');
                $t->unsignedInteger('version')->default(1);
                $t->timestamps(6);
                $t->unique(['workshop_id', 'name']);
            });
        }
        if (!Schema::hasTable('batch_lanes')) {
            Schema::create('batch_lanes', function (Blueprint $t): void {
                $t->foreignId('batch_id')->primary()->constrained();
                $t->char('of', 32);
                $t->longText('lane');
            });
        }
        if (!Schema::hasColumn('jobs', 'batch_id')) {
            Schema::table('jobs', function (Blueprint $t): void {
                $t->foreignId('batch_id')->nullable()->constrained();
                $t->double('came_v')->nullable();
                $t->json('lot_facts')->nullable();
                $t->index(['batch_id', 'number']);
            });
        }
    }

    public function down(): void
    {
        if (Schema::hasColumn('jobs', 'batch_id')) {
            Schema::table('jobs', function (Blueprint $t): void {
                $t->dropForeign(['batch_id']);
                $t->dropIndex(['batch_id', 'number']);
                $t->dropColumn(['batch_id', 'came_v', 'lot_facts']);
            });
        }
        foreach (['batch_lanes', 'batches', 'toppings', 'pack_capacities'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};
