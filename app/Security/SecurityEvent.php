<?php

declare(strict_types=1);

namespace App\Security;

/** What the security log knows, each with the words that the owner reads. */
enum SecurityEvent: string
{
    case SignedIn = 'signed-in';
    case SignInFailed = 'sign-in-failed';
    case SignInThrottled = 'sign-in-throttled';
    case SignedOut = 'signed-out';
    case HandedOver = 'handed-over';
    case CodeFailed = 'code-failed';
    case Proved = 'proved';
    case ProofFailed = 'proof-failed';
    case SessionEnded = 'session-ended';
    case WorkshopOpened = 'workshop-opened';
    case Invited = 'invited';
    case InvitationWithdrawn = 'invitation-withdrawn';
    case Joined = 'joined';
    case ResetMade = 'reset-made';
    case ResetUsed = 'reset-used';
    case PasswordChanged = 'password-changed';
    case CodeChanged = 'code-changed';
    case SecondFactorOn = 'second-factor-on';
    case SecondFactorOff = 'second-factor-off';
    case RecoveryCodeUsed = 'recovery-code-used';
    case RoleChanged = 'role-changed';
    case PersonEdited = 'person-edited';
    case PersonDisabled = 'person-disabled';
    case PersonEnabled = 'person-enabled';
    case SettingsChanged = 'settings-changed';
    case PriceChanged = 'price-changed';
    case Exported = 'exported';
    case CustomerForgotten = 'customer-forgotten';
    case CustomersMerged = 'customers-merged';
    case InstrumentAddress = 'instrument-address';
    case OwnerLinkRefused = 'owner-link-refused';
    case MailPassword = 'mail-password';
    case Refused = 'refused';

    public function words(): string
    {
        return match ($this) {
            self::SignedIn => 'signed in',
            self::SignInFailed => 'failed to sign in',
            self::SignInThrottled => 'was held off: too many failed sign-ins',
            self::SignedOut => 'signed out',
            self::HandedOver => 'took over the bench',
            self::CodeFailed => 'typed a wrong personal code',
            self::Proved => 'proved the password again',
            self::ProofFailed => 'failed to prove the password',
            self::SessionEnded => 'had a session ended',
            self::WorkshopOpened => 'opened the workshop',
            self::Invited => 'made an invitation',
            self::InvitationWithdrawn => 'withdrew an invitation',
            self::Joined => 'joined',
            self::ResetMade => 'made a reset',
            self::ResetUsed => 'set a new password by a reset',
            self::PasswordChanged => 'changed the password',
            self::CodeChanged => 'changed the personal code',
            self::SecondFactorOn => 'switched the second factor on',
            self::SecondFactorOff => 'switched the second factor off',
            self::RecoveryCodeUsed => 'used a recovery code',
            self::RoleChanged => 'changed a role',
            self::PersonEdited => 'edited a person',
            self::PersonDisabled => 'disabled a person',
            self::PersonEnabled => 'enabled a person',
            self::SettingsChanged => 'changed settings',
            self::PriceChanged => 'changed a price',
            self::Exported => 'exported',
            self::MailPassword => 'changed the password at the mail server',
            self::CustomerForgotten => 'had a customer forgotten',
            self::CustomersMerged => 'merged customers',
            self::InstrumentAddress => 'entered an instrument',
            self::OwnerLinkRefused => 'tried an owner\'s link that is not good',
            self::Refused => 'was refused',
        };
    }
}
