<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Whether the capacity of a cell came from a log or was typed: how sure it is goes by it. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasColumn('cells', 'capacity_from')) {
            Schema::table('cells', function (Blueprint $t): void {
                $t->string('capacity_from', 10)->nullable();
            });
            DB::table('cells')
                ->whereNotNull('capacity_ah')
                ->update(['capacity_from' => 'typed']);
            // As exact as a figure of JSON: a log that counts gave it when it says the same.
            DB::statement(
                "UPDATE cells c JOIN logs l ON l.cell_id = c.id SET c.capacity_from = 'log'
                 WHERE c.capacity_ah IS NOT NULL AND ABS(JSON_VALUE(l.figures, '$.capacity.ah') - c.capacity_ah) < 0.000001",
            );
        }
    }

    public function down(): void
    {
        Schema::table('cells', function (Blueprint $t): void {
            $t->dropColumn('capacity_from');
        });
    }
};
