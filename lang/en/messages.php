<?php

declare(strict_types=1);

// Texts to owners of packs in service. Another language is a file like this one under lang/.

return [
    'reading-due' => [
        'subject' => 'A reading of :pack is due',
        'body' =>
            "Hello,\n\n:pack (code :code) is due to be read since :date. It takes less than half a minute: scan the code on its label " .
            "with a phone, type what its display shows, and you are told at once whether all is well.\n\nWithout a display, or without " .
            "the label, bring it by or call us: we read it for you.\n\n:workshop\n",
    ],
    'overdue' => [
        'subject' => ':pack was to be read on :date',
        'body' =>
            "Hello,\n\n:pack (code :code) was to be read on :date, and nothing has come yet. Whether its repair holds is only known " .
            "by reading it: scan the code on its label and type what its display shows, or bring it by.\n\n" .
            "If it is swollen, hot, smells, was wet or dropped: do not use or charge it, put it outdoors, and call us.\n\n:workshop\n",
    ],
    'top-up' => [
        'subject' => 'Charge :pack full',
        'body' =>
            "Hello,\n\n:pack (code :code) has a part that loses charge by itself. It is to be charged full every :days days, and that is " .
            "due since :date. Stay with it while it charges. Then scan the code on its label and say that it is done.\n\n" .
            "If it gets warm, swells or smells: end the charge, put it outdoors, and call us.\n\n:workshop\n",
    ],
    'stop' => [
        'subject' => 'Stop using :pack and bring it in',
        'body' =>
            "Hello,\n\nwhat you told us of :pack (code :code) on :date says: stop using it. Do not charge it. Put it outdoors, away from " .
            "people and anything that burns, and call us before you bring it in.\n\n:workshop\n",
    ],
    'test' => [
        'subject' => 'A test from your workshop',
        'body' => "This message was sent to see whether the mail server takes messages. It does.\n",
    ],
];
