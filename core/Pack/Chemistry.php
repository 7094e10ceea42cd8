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
            self::Nmc, self::Nca => new ChemistryProfile(3.60, 4.20, 2.50, 2.80, 4.25, 3.10, 4.15, 3.00, 1.50, 3.70),
            self::Lco => new ChemistryProfile(3.70, 4.20, 3.00, 3.00, 4.25, 3.30, 4.15, 3.00, 1.50, 3.80),
            self::LcoHv => new ChemistryProfile(3.80, 4.35, 3.00, 3.00, 4.40, 3.30, 4.30, 3.00, 1.50, 3.85),
            self::Lmo => new ChemistryProfile(3.70, 4.20, 2.75, 2.80, 4.25, 3.10, 4.15, 3.00, 1.50, 3.80),
            self::Lfp => new ChemistryProfile(3.20, 3.65, 2.50, 2.50, 3.70, 2.80, 3.50, 2.50, 1.20, 3.30),
            self::Lto => new ChemistryProfile(2.30, 2.75, 1.50, 1.60, 2.85, 1.80, 2.70, 1.50, 0.90, 2.30),
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
