<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

/** What has to be so before a guided run begins. */
final readonly class Needs
{
    /**
     * @param  bool|null  $met  null: nobody has said; it is shown and stops nothing
     * @param  string  $room  of the job, where it is mended
     */
    public function __construct(public string $text, public ?bool $met, public string $room = '', public string $door = '') {}

    /** @return array{text: string, met: bool|null, room: string, door: string} */
    public function toArray(): array
    {
        return ['text' => $this->text, 'met' => $this->met, 'room' => $this->room, 'door' => $this->door];
    }
}
