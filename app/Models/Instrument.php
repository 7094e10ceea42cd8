<?php

declare(strict_types=1);

namespace App\Models;

use App\Actions\Refused;
use App\Instruments\Reach;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** A meter, supply, load or board at a bench place, reached by host and port. `timer` is what renews a supply, when proved. */
final class Instrument extends Row
{
    public $timestamps = true;

    protected $table = 'instruments';

    protected $attributes = [
        'identity' => '{}',
        'place' => '',
        'timer' => '',
        'simulated' => false,
        'active' => true,
        'timeout_s' => 0.8,
        'style' => '',
    ];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'identity' => 'array',
            'simulated' => 'boolean',
            'active' => 'boolean',
            'checked_at' => 'immutable_datetime',
            'timeout_s' => 'float',
            'channel' => 'integer',
            'isolation_mohm' => 'float',
            'isolation_at' => 'immutable_datetime',
        ];
    }

    /** @return BelongsTo<Workshop, $this> */
    public function workshop(): BelongsTo
    {
        return $this->belongsTo(Workshop::class);
    }

    /**
     * The address to speak to, judged anew each time: what the owner allows may have changed, and so may what a name leads to.
     *
     * @throws Refused it is not allowed
     */
    public function address(): string
    {
        $at = Reach::of($this->workshop->said()->text('instrument_networks'))->judge($this->host, $this->port);

        return $at['address'] ?? throw new Refused('not-allowed', "{$this->name}: {$at['why']}", 409, ['host' => $at['why']]);
    }
}
