<?php

declare(strict_types=1);

namespace Heartwood\Core\Teardown;

/** What comes off a pack when it is taken apart (handbook "Teardown log and the way back"). */
enum Part: string
{
    case Fastener = 'fastener';
    case Lid = 'lid';
    case Tape = 'tape';
    case Sealant = 'sealant';
    case Glue = 'glue';
    case Pad = 'pad';
    case Foam = 'foam';
    case Strap = 'strap';
    case Ring = 'ring';
    case Shrink = 'shrink';
    case Lead = 'lead';
    case Connector = 'connector';
    case Board = 'board';
    case Link = 'link';
    case Cell = 'cell';
    case Other = 'other';

    /** @return list<string> words that mean it in what a person types */
    public function words(): array
    {
        return match ($this) {
            self::Fastener => ['screw', 'bolt', 'nut', 'clip', 'rivet', 'washer', 'fastener'],
            self::Lid => ['lid', 'cover', 'case', 'shell', 'foot', 'feet', 'label', 'handle'],
            self::Tape => ['tape', 'kapton', 'fishpaper'],
            self::Sealant => ['sealant', 'silicone', 'potting', 'gasket', 'seal'],
            self::Glue => ['glue', 'adhesive', 'hot-melt'],
            self::Pad => ['pad'],
            self::Foam => ['foam'],
            self::Strap => ['strap', 'tie'],
            self::Ring => ['ring', 'insulator'],
            self::Shrink => ['shrink', 'sleeve', 'wrap'],
            self::Lead => ['lead', 'wire', 'cable'],
            self::Connector => ['connector', 'plug', 'socket'],
            self::Board => ['board', 'bms'],
            self::Link => ['link', 'strip', 'busbar', 'bar'],
            self::Cell => ['cell', 'group', 'block'],
            self::Other => ['other', 'part'],
        };
    }

    /** Whether current flows through it, so that it is tugged when it is back, and the insulation proved before the case is closed. */
    public function conducts(): bool
    {
        return in_array($this, [self::Lead, self::Connector, self::Board, self::Link, self::Cell], true);
    }

    /** Whether it does not hold a second time: it goes on the parts list. */
    public function isRenewed(): bool
    {
        return in_array($this, [self::Tape, self::Sealant, self::Glue, self::Ring, self::Shrink], true);
    }
}
