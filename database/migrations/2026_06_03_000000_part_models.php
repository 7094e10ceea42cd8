<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Devices, boards and chargers that this shop has seen: described once, offered again. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('part_models')) {
            Schema::create('part_models', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->string('kind', 8);
                $t->string('name', 120);
                $t->json('spec');
                $t->timestamps(6);
                $t->unique(['workshop_id', 'kind', 'name']);
            });
        }
    }

    public function down(): void
    {
        Schema::dropIfExists('part_models');
    }
};
