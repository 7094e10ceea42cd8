<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** A delivery waits until a sample of it was tested: whether a lot was taken, by whom, and why. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasColumn('lots', 'state')) {
            Schema::table('lots', function (Blueprint $t): void {
                $t->string('state', 10)->default('taken');
                $t->string('reason', 400)->default('');
                $t->foreignId('decided_by')->nullable()->constrained('people');
                $t->dateTime('decided_at', 6)->nullable();
            });
        }
    }

    public function down(): void
    {
        Schema::table('lots', function (Blueprint $t): void {
            $t->dropConstrainedForeignId('decided_by');
            $t->dropColumn(['state', 'reason', 'decided_at']);
        });
    }
};
