<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** One instrument, one run; how an instrument wants to be spoken to; and whether it is isolated from earth. */
return new class extends Migration {
    public function up(): void
    {
        Schema::create('instrument_claims', function (Blueprint $t): void {
            $t->string('instrument', 190)->primary();
            $t->uuid('run_id')->index();
            $t->dateTime('at', 6);
        });
        Schema::table('instruments', function (Blueprint $t): void {
            $t->decimal('timeout_s', 4, 1)->default(0.8);
            $t->unsignedTinyInteger('channel')->nullable();
            $t->string('style', 8)->default('');
            $t->decimal('isolation_mohm', 8, 2)->nullable();
            $t->dateTime('isolation_at', 6)->nullable();
        });
        Schema::table('runs', function (Blueprint $t): void {
            $t->dateTime('closed_at', 6)->nullable()->index();
        });
        \Illuminate\Support\Facades\DB::table('runs')
            ->whereNotNull('ended_at')
            ->update(['closed_at' => \Illuminate\Support\Facades\DB::raw('ended_at')]);
    }

    public function down(): void
    {
        Schema::table('runs', fn(Blueprint $t) => $t->dropColumn('closed_at'));
        Schema::table(
            'instruments',
            fn(Blueprint $t) => $t->dropColumn(['timeout_s', 'channel', 'style', 'isolation_mohm', 'isolation_at']),
        );
        Schema::dropIfExists('instrument_claims');
    }
};
