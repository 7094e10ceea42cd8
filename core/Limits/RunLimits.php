<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** Every number that a supervised run is proved, watched and ended by. Each stands here once and nowhere else. */
final class RunLimits
{
    private const GATES = 'handbook "Gates on work"';

    private const RECOVERY = 'handbook "Recovery of a deep-discharged group"';

    private const BALANCING = 'handbook "Balancing"';

    private const CHEMISTRY = 'handbook "Chemistry profiles"';

    private const JOINING = 'handbook "Joining cells or packs in parallel"';

    private const SHOP = 'workshop rule: proof of clips, supply and order';

    // Proof, output off

    #[Limit('V', self::GATES . ': under this the clips are reversed')]
    public const REVERSED_V = -0.1;

    #[Limit('V', self::GATES . ': down to this a reversed group may be held by the supply\'s own output diode')]
    public const DIODE_V = -1.5;

    #[Limit('V', self::SHOP . ': closer to zero than this the clips are open, or the group is dead')]
    public const OPEN_V = 0.05;

    #[Limit('V', self::SHOP . ': how far a group may stand from the plan, a group')]
    public const BAND_V = 0.06;

    #[Limit('sigma', self::SHOP . ': or this many standard uncertainties of the difference, if that is more')]
    public const BAND_SIGMAS = 3.0;

    #[Limit('V', self::SHOP . ': further from the plan than this it is another group, however old the plan')]
    public const STALE_V = 0.3;

    #[Limit('s', self::SHOP . ': how long a fresh reading is waited for')]
    public const ANSWER_S = 180.0;

    #[Limit('V', self::SHOP . ': two rounds of the proof agree within this')]
    public const AGREE_V = 0.01;

    #[Limit('s', self::SHOP . ': least time between two rounds')]
    public const ROUND_LEAST_S = 5.0;

    #[Limit('s', self::SHOP . ': not proved in this time, it stops and says what is lacking')]
    public const PROVE_S = 300.0;

    #[Limit('A', self::SHOP . ': current allowed with the output off')]
    public const OFF_A = 0.02;

    #[Limit('1', self::SHOP . ': the same as a share of the ammeter\'s range, where that is known')]
    public const OFF_SHARE = 0.002;

    #[Limit('V', self::SHOP . ': a set voltage may read back this much over the order')]
    public const SET_OVER_V = 0.02;

    #[Limit('1', self::SHOP . ': a set current may read back this share over the order')]
    public const SET_OVER_A = 0.02;

    #[Limit('V', self::SHOP . ': one step of a coarse supply, under the order')]
    public const SET_STEP_V = 0.05;

    #[Limit('1', self::SHOP . ': or this share of the order, if that is more')]
    public const SET_STEP_V_SHARE = 0.005;

    #[Limit('A', self::SHOP . ': one step of a coarse supply, under the order')]
    public const SET_STEP_A = 0.02;

    #[Limit('1', self::SHOP . ': or this share of the order, if that is more')]
    public const SET_STEP_SHARE = 0.05;

    #[Limit('s', self::SHOP . ': a supply may take this long to show its new set-points while its output is off')]
    public const SET_TAKES_S = 10.0;

    #[Limit('1', self::SHOP . ': share of the current that a supply which cannot be read back is first tried with')]
    public const TRIAL_SHARE = 0.1;

    #[Limit('samples', self::SHOP . ': that must measure as ordered before all of the current is given')]
    public const TRIAL_SAMPLES = 2;

    #[Limit('V', self::RECOVERY . ': a meter coarser than this cannot see a group hang')]
    public const COARSEST_V = 0.02;

    // All the while

    #[Limit('1', self::SHOP . ': over the order by this share, on two samples')]
    public const OVER_SHARE = 0.1;

    #[Limit('A', self::SHOP . ': or by this much, if that is more, on two samples')]
    public const OVER_A = 0.05;

    #[Limit('1', self::SHOP . ': over the order by this share, at once')]
    public const OVER_AT_ONCE_SHARE = 0.5;

    #[Limit('A', self::SHOP . ': and by this much, at once')]
    public const OVER_AT_ONCE_A = 0.1;

    #[Limit('1', self::SHOP . ': under this share of the order no current counts as flowing')]
    public const NO_CURRENT_SHARE = 0.1;

    #[Limit('s', self::SHOP . ': for this long')]
    public const NO_CURRENT_S = 120.0;

    #[Limit('V', self::SHOP . ': while the supply stands this far under its set voltage')]
    public const UNDER_SET_V = 0.05;

    #[Limit('1', self::SHOP . ': or this share of it, if that is more')]
    public const UNDER_SET_SHARE = 0.015;

    #[Limit('s', self::RECOVERY . ': a needed reading may be missing this long, at least')]
    public const LOST_LEAST_S = 10.0;

    #[Limit('intervals', self::RECOVERY . ': or this many intervals between samples')]
    public const LOST_INTERVALS = 3.0;

    #[Limit('s', self::RECOVERY . ': at the most; the temperature always this long')]
    public const LOST_MOST_S = 60.0;

    #[Limit('s', self::SHOP . ': what a hand may be late with a reading that was asked for')]
    public const HAND_LATE_S = 60.0;

    #[Limit('s', self::RECOVERY . ': without a whole reading for this long the run ends')]
    public const MISSING_S = 180.0;

    #[Limit('V', self::SHOP . ': no group rises this far from one sample to the next')]
    public const JUMP_UP_V = 0.3;

    #[Limit('times', self::SHOP . ': the whole slow answer of a group against its rated ohms, which relaxes when current stops')]
    public const RELAXES = 3.0;

    #[Limit('times', self::SHOP . ': the same against the ohms that it has shown itself')]
    public const RELAXES_SHOWN = 1.5;

    #[Limit('V', self::SHOP . ': nor falls this far')]
    public const JUMP_DOWN_V = 0.1;

    #[Limit('s', self::SHOP . ': samples further apart than this are not compared')]
    public const JUMP_S = 60.0;

    #[Limit('times', self::SHOP . ': clips that slip this often without getting on are not let on again')]
    public const JUMPS = 5;

    #[Limit('s', self::SHOP . ': within this time')]
    public const JUMPS_S = 600.0;

    #[Limit('s', self::SHOP . ': current must be at zero this soon after the output went off')]
    public const OFF_S = 5.0;

    // The group itself

    #[Limit('V', self::RECOVERY . ': a fall at constant current over the window')]
    public const FALL_V = 0.02;

    #[Limit('counts', self::RECOVERY . ': or this many steps of the meter, if that is more')]
    public const FALL_COUNTS = 3.0;

    #[Limit('s', self::RECOVERY . ': window of current in which it counts')]
    public const FALL_S = 180.0;

    #[Limit('1', self::RECOVERY . ': current is constant within this share')]
    public const CONSTANT_SHARE = 0.05;

    #[Limit('counts', self::RECOVERY . ': or this many steps of the ammeter')]
    public const CONSTANT_COUNTS = 2.0;

    #[Limit('A', self::RECOVERY . ': or this much')]
    public const CONSTANT_A = 0.01;

    #[Limit('V', self::RECOVERY . ': rise to be seen under pre-charge')]
    public const RISE_V = 0.05;

    #[Limit('s', self::RECOVERY . ': of current at C/20 in which it must be seen')]
    public const RISE_S = 600.0;

    #[Limit('1', self::RECOVERY . ': share of capacity that may go in before pre-charge is reached')]
    public const SHARE_BEFORE_PRECHARGE = 0.08;

    #[Limit('1', self::RECOVERY . ': what may go in, against the gap in charge')]
    public const OVER_GAP = 1.15;

    #[Limit('s', self::RECOVERY . ': rest after pre-charge')]
    public const REST_S = 3600.0;

    #[Limit('s', self::RECOVERY . ': the end of it that is judged')]
    public const REST_WINDOW_S = 900.0;

    #[Limit('V', self::RECOVERY . ': a fall in that window rejects')]
    public const REST_FALL_V = 0.03;

    #[Limit('C', self::RECOVERY . ': and so does a leak over this that does not slow down')]
    public const REST_LEAK_C = 1 / 200;

    #[Limit('V', self::SHOP . ': over working full on two samples, or three sigma')]
    public const PAST_FULL_V = 0.015;

    #[Limit('V', self::SHOP . ': over working full, at once')]
    public const PAST_FULL_AT_ONCE_V = 0.05;

    #[Limit('V', self::SHOP . ': a watched pack charge goes off this far over the board\'s high cut')]
    public const OVER_CUT_V = 0.02;

    #[Limit('s', self::SHOP . ': or over the cut at all for this long')]
    public const OVER_CUT_S = 5.0;

    #[Limit('V', self::SHOP . ': over full, where no cut is known')]
    public const NO_CUT_V = 0.05;

    #[Limit('1', self::SHOP . ': share of that leak from which a fall at rest counts, since part of it is still relaxing')]
    public const REST_LEAK_SHARE = 0.7;

    #[Limit('1', self::SHOP . ': a fall at rest slows down if a quarter of an hour loses less than this share of the one before')]
    public const REST_SLOWS = 0.65;

    // Temperature

    #[Limit('degC', self::CHEMISTRY . ': no charge under it')]
    public const CHARGE_COLDEST_C = 0.0;

    #[Limit('degC', self::CHEMISTRY . ': no charge over it')]
    public const CHARGE_HOTTEST_C = 45.0;

    #[Limit('degC', self::CHEMISTRY . ': no discharge under it')]
    public const DISCHARGE_COLDEST_C = -20.0;

    #[Limit('degC', self::CHEMISTRY . ': no discharge over it')]
    public const DISCHARGE_HOTTEST_C = 60.0;

    #[Limit('degC', self::RECOVERY . ': one group, or past the board')]
    public const SINGLE_HOTTEST_C = 40.0;

    #[Limit('K', self::RECOVERY . ': over ambient, one group or past the board')]
    public const SINGLE_OVER_AMBIENT_K = 5.0;

    #[Limit('K', self::RECOVERY . ': rise in the window of current, one group or past the board')]
    public const RISES_K = 3.0;

    #[Limit('s', self::RECOVERY . ': that window')]
    public const RISES_S = 600.0;

    #[Limit('K', self::SHOP . ': over ambient, watched pack charge')]
    public const CHARGE_OVER_AMBIENT_K = 10.0;

    #[Limit('K', self::SHOP . ': over ambient, watched discharge')]
    public const DISCHARGE_OVER_AMBIENT_K = 20.0;

    #[Limit('degC', self::RECOVERY . ': under this at most C/10')]
    public const COOL_C = 10.0;

    #[Limit('s', self::RECOVERY . ': the ambient is read anew this often, or by a second sensor')]
    public const AMBIENT_OLD_S = 3600.0;

    // Currents, as shares of capacity an hour

    #[Limit('C', self::RECOVERY . ': slow charge, and past the board')]
    public const SLOW_C = 1 / 20;

    #[Limit('C', self::RECOVERY . ': the most under pre-charge, and when cool')]
    public const SLOW_MOST_C = 1 / 10;

    #[Limit('C', self::RECOVERY . ': up to the neighbours; one group filled')]
    public const RAISE_C = 1 / 5;

    #[Limit('C', 'handbook "Protection, path, sensing": a pack charged through its board, watched')]
    public const CHARGE_C = 1 / 10;

    #[Limit('C', 'handbook "Test logs of cells and groups": capacity test')]
    public const DISCHARGE_C = 1 / 5;

    #[Limit('C', self::BALANCING . ': tail at which a fill is full')]
    public const TAIL_C = 1 / 20;

    #[Limit('1', self::BALANCING . ': or this share of the set current, if that is less')]
    public const TAIL_SHARE = 0.5;

    #[Limit('V', self::BALANCING . ': constant voltage counts as reached this far under it')]
    public const AT_VOLTAGE_V = 0.02;

    #[Limit('V', self::RECOVERY . ': at rest, this close under its target a group has reached it')]
    public const AT_TARGET_V = 0.008;

    #[Limit('rounds', self::RECOVERY . ': charge, rest, read again: not more often')]
    public const ROUNDS = 5;

    // Below the floor

    #[Limit('V', self::RECOVERY . ': under this never, whoever asks')]
    public const NEVER_BELOW_V = 0.5;

    #[Limit('d', self::RECOVERY . ': known to have been under the floor for less than this')]
    public const BELOW_FLOOR_DAYS = 7.0;

    // Presence

    #[Limit('s', self::GATES . ': after a confirmation is overdue')]
    public const PRESENCE_GRACE_S = 120.0;

    // After a stop

    #[Limit('s', self::GATES . ': temperature and voltage are watched on, output off')]
    public const AFTER_S = 1800.0;

    #[Limit('K', self::GATES . ': over ambient and not falling')]
    public const AFTER_OVER_K = 5.0;

    #[Limit('s', self::GATES . ': after this long')]
    public const AFTER_FALLING_S = 600.0;

    #[Limit('K', self::GATES . ': a rise that is more than the thermometer\'s noise')]
    public const AFTER_RISE_K = 2.0;

    // Instruments on one pack

    #[Limit('Mohm', 'handbook "Driving the bench": output to earth, over it an instrument is isolated')]
    public const ISOLATION_MOHM = 1.0;

    #[Limit('d', 'handbook "Driving the bench": then it is measured again')]
    public const ISOLATION_DAYS = 366.0;

    // Hold test

    #[Limit('V', self::SHOP . ': a group that rises this far against its neighbours was moved by something else; or three sigma')]
    public const HOLD_RISES_V = 0.003;

    // Joining in parallel

    #[Limit('V', self::JOINING . ': apart at the most, to be joined directly')]
    public const JOIN_DIRECT_V = 0.05;

    #[Limit('V', self::JOINING . ': over full, no side is joined')]
    public const JOIN_OVER_FULL_V = 0.01;

    #[Limit('min', self::JOINING . ': a settling through a resistor shorter than this is no plan')]
    public const JOIN_LEAST_MIN = 1.0;

    #[Limit('W', self::JOINING . ': more than a bench resistor takes')]
    public const JOIN_MOST_W = 50.0;

    // Readings asked of a hand

    #[Limit('s', self::SHOP . ': soonest')]
    public const ASK_LEAST_S = 15.0;

    #[Limit('s', self::SHOP . ': latest while a rule needs it')]
    public const ASK_MOST_S = 180.0;

    #[Limit('s', self::SHOP . ': latest where nothing can go wrong sooner')]
    public const ASK_REST_S = 900.0;

    #[Limit('1', self::SHOP . ': share of the time to full at the last rise')]
    public const ASK_SHARE = 0.25;

    // What a run knows of the group's resistance, and of its end

    #[Limit('s', self::RECOVERY . ': current and volts have settled after this')]
    public const SETTLED_S = 30.0;

    #[Limit('s', self::RECOVERY . ': of steady current, after which a step tells the group\'s resistance')]
    public const OHM_S = 60.0;

    #[Limit('1', self::RECOVERY . ': share of the ordered current that such a step needs')]
    public const OHM_SHARE = 0.2;

    #[Limit('V', self::RECOVERY . ': past the target by this the target is reached, resistance or no')]
    public const OHM_KNOWN_V = 0.08;

    #[Limit('h', self::RECOVERY . ': of current, beyond the gap, that a fill may take for the taper')]
    public const OVER_GAP_H = 0.02;

    #[Limit('1', self::RECOVERY . ': charge that a gap counts as at least')]
    public const GAP_LEAST = 0.01;

    #[Limit('1', self::RECOVERY . ': share of the set current from which a supply does as ordered')]
    public const AS_ORDERED_SHARE = 0.5;
}
