<?php

declare(strict_types=1);

namespace Heartwood\Core\Pack;

enum Chemistry: string
{
    case Nmc = 'nmc';
    case Nca = 'nca';
    case Lco = 'lco';
    case LcoHv = 'lco-hv';
    case Lmo = 'lmo';
    case Lfp = 'lfp';
    case Lto = 'lto';

    /** Voltages per cell: handbook "Chemistry profiles". Defaults: the cell maker's datasheet wins. */
    public function profile(): ChemistryProfile
    {
        return match ($this) {
            self::Nmc, self::Nca => new ChemistryProfile(3.6, 4.2, 2.5, 2.8, 4.25, 3.1, 4.15, 3.0, 1.5, 3.7),
            self::Lco => new ChemistryProfile(3.7, 4.2, 3.0, 3.0, 4.25, 3.3, 4.15, 3.0, 1.5, 3.8),
            self::LcoHv => new ChemistryProfile(3.8, 4.35, 3.0, 3.0, 4.4, 3.3, 4.3, 3.0, 1.5, 3.85),
            self::Lmo => new ChemistryProfile(3.7, 4.2, 2.75, 2.8, 4.25, 3.1, 4.15, 3.0, 1.5, 3.8),
            self::Lfp => new ChemistryProfile(3.2, 3.65, 2.5, 2.5, 3.7, 2.8, 3.5, 2.5, 1.2, 3.3),
            self::Lto => new ChemistryProfile(2.3, 2.75, 1.5, 1.6, 2.85, 1.8, 2.7, 1.5, 0.9, 2.3),
        };
    }

    /** Minutes after the last current from which a reading counts as rest. */
    public function restMinutes(): float
    {
        return $this === self::Lfp ? 120.0 : 30.0;
    }

    public function isPhosphate(): bool
    {
        return $this === self::Lfp;
    }
}
