<?php

declare(strict_types=1);

namespace App\Models;

use Heartwood\Core\Shop\Settings;

/**
 * The tenant: every other row belongs to one. Its settings are what differs from core/Shop/Settings.php, and the counts of its own
 * priors.
 */
final class Workshop extends Row
{
    public $timestamps = true;

    protected $table = 'workshops';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['settings' => 'array', 'demo' => 'boolean'];
    }

    /** What this shop has said of itself, with the defaults where it has said nothing. */
    public function said(): Settings
    {
        return Settings::of($this->settings);
    }
}
