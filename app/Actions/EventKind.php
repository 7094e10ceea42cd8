<?php

declare(strict_types=1);

namespace App\Actions;

/** What the log of a job knows, each with the facts it must carry and the words people read. Names are for ever. */
enum EventKind: string
{
    case Opened = 'opened';
    case Imported = 'imported';
    case IntakeEdited = 'intake-edited';
    case Triage = 'triage';
    case Test = 'test';
    case PackEvent = 'pack-event';
    case Verdict = 'verdict';
    case Decided = 'decided';
    case Stage = 'stage';
    case Wait = 'wait';
    case Revision = 'revision';
    case StepDone = 'step-done';
    case StepUndone = 'step-undone';
    case StepSkipped = 'step-skipped';
    case Proof = 'proof';
    case SignedOff = 'signed-off';
    case Closed = 'closed';
    case TakenBack = 'taken-back';
    case SafetyScrapped = 'safety-scrapped';
    case SafetyCellRemoved = 'safety-cell-removed';
    case SafetyMistake = 'safety-mistake';
    case SafetyReleased = 'safety-released';
    case Joint = 'joint';
    case JointChecked = 'joint-checked';
    case BudgetKept = 'budget-kept';
    case LayoutKept = 'layout-kept';
    case CellsDealt = 'cells-dealt';
    case LotDecided = 'lot-decided';
    case WorkTimed = 'work-timed';
    case GuidedBegun = 'guided-begun';
    case GuidedEnded = 'guided-ended';
    case RunStarted = 'run-started';
    case RunEnded = 'run-ended';
    case RunWatched = 'run-watched';
    case Watch = 'watch';
    case RunEnd = 'run-end';
    case RunLeave = 'run-leave';
    case RunPause = 'run-pause';
    case RunResume = 'run-resume';
    case RunClipped = 'run-clipped';
    case RunPlan = 'run-plan';
    case InstrumentAdded = 'instrument-added';
    case InstrumentIdentified = 'instrument-identified';
    case InstrumentIsolation = 'instrument-isolation';
    case InstrumentRetired = 'instrument-retired';
    case PriorsReset = 'priors-reset';
    case Settings = 'settings';
    case PriceChanged = 'price-changed';
    case Consent = 'consent';
    case TeardownChanged = 'teardown-changed';
    case PhotoRemoved = 'photo-removed';
    case PhoneLink = 'phone-link';
    case PartDescribed = 'part-described';
    case PackRead = 'pack-read';
    case PackReadTakenBack = 'pack-read-taken-back';
    case WallRead = 'wall-read';
    case ToppingBegun = 'topping-begun';
    case ToppingEnded = 'topping-ended';
    case ToppingJoined = 'topping-joined';
    case BatchOpened = 'batch-opened';
    case BatchEdited = 'batch-edited';
    case BatchShared = 'batch-shared';
    case PackOwner = 'pack-owner';
    case OwnerLink = 'owner-link';
    case PassportImported = 'passport-imported';
    case MessageDone = 'message-done';
    case MessageAgreed = 'message-agreed';
    case CustomerEdited = 'customer-edited';
    case CustomersMerged = 'customers-merged';
    case CustomerForgotten = 'customer-forgotten';

    /** @return list<string> facts without which this is not written */
    public function facts(): array
    {
        return match ($this) {
            self::Imported => ['readings'],
            self::IntakeEdited => ['before'],
            self::Triage => ['inspection', 'symptoms', 'state', 'reasons'],
            self::Test => ['kind'],
            self::PackEvent => ['at', 'kind'],
            self::Verdict => ['id', 'first'],
            self::Decided => ['action', 'reason'],
            self::Stage => ['from', 'to'],
            self::Wait => ['until', 'for'],
            self::Revision => ['number', 'reason'],
            self::StepDone, self::StepUndone => ['step', 'entry'],
            self::StepSkipped => ['step', 'reason'],
            self::Proof => ['check', 'data'],
            self::SignedOff => ['reason'],
            self::Closed => ['as', 'note'],
            self::TakenBack => ['from', 'reason'],
            self::SafetyScrapped, self::SafetyCellRemoved, self::SafetyMistake, self::SafetyReleased => ['from', 'to', 'reason'],
            self::Joint => ['tap', 'set_nm', 'min_nm', 'max_nm'],
            self::JointChecked => ['tap', 'mohm', 'holds'],
            self::CellsDealt => ['groups', 'cells'],
            self::LotDecided => ['lot', 'state', 'outcome'],
            self::WorkTimed => ['action', 'minutes'],
            self::GuidedBegun => ['run', 'title'],
            self::GuidedEnded => ['run', 'title', 'word', 'text'],
            self::RunStarted => ['kind', 'group'],
            self::RunEnded => ['kind', 'group', 'outcome', 'text'],
            self::RunWatched => ['quarantine'],
            self::Watch => ['group', 'text'],
            self::InstrumentAdded => ['name', 'kind'],
            self::InstrumentIsolation => ['name', 'mohm'],
            self::InstrumentIdentified, self::InstrumentRetired => ['name'],
            self::Consent => ['how'],
            self::TeardownChanged => ['step', 'changes'],
            self::PhotoRemoved => ['photo'],
            self::PhoneLink => ['until'],
            self::PartDescribed => ['kind', 'name', 'spec'],
            self::PackRead => ['pack', 'reading'],
            self::PackReadTakenBack => ['pack', 'reading', 'reason'],
            self::WallRead => ['customer', 'packs', 'new', 'what'],
            self::ToppingBegun => ['pack', 'group', 'by'],
            self::ToppingEnded => ['pack', 'group', 'text'],
            self::ToppingJoined => ['pack', 'group', 'way'],
            self::BatchOpened => ['batch', 'packs'],
            self::BatchEdited => ['batch', 'fields'],
            self::BatchShared => ['batch', 'from', 'jobs'],
            self::PackOwner => ['pack', 'from', 'to'],
            self::OwnerLink => ['pack', 'open'],
            self::PassportImported => ['pack', 'from'],
            self::MessageDone => ['message', 'as'],
            self::MessageAgreed => ['customer', 'kind', 'agreed'],
            self::CustomersMerged => ['from', 'into'],
            default => [],
        };
    }
}
