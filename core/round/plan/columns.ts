// What stands where in the flat tables that the hot path reads.

/** What an action does, as the engine tells them apart. */
export const enum Op {
  Broken,
  Follow,
  Nudge,
  Toggle,
  Momentary,
  SetTo,
  Step,
  Bank,
  LayerHold,
  LayerToggle,
  LayerOn,
  LayerOff,
  LayerStep,
  FlagHold,
  FlagToggle,
  FlagOn,
  FlagOff,
  Send,
  Notes,
  FocusPage,
  Rondo,
}

/** A part. */
export const enum PartColumn {
  Mode,
  Motor,
  Partner,
  Text,
  TextSource,
  Link,
  /** First candidate of each gesture, and after them the end of the last. */
  Candidates,
  Width = 12,
}
export const enum BindingColumn {
  Layer,
  WhenFirst,
  WhenCount,
  First,
  Count,
  PassOn,
  /** It holds something for as long as it is pressed. */
  Holds,
  Shown,
  Base,
  Offset,
  Strips,
  NameBase,
  NameOffset,
  NameStrips,
  MeterBase,
  MeterOffset,
  MeterStrips,
  Width = 18,
}
export const enum ActionColumn {
  Op,
  Base,
  Offset,
  Strips,
  By,
  WhenFirst,
  WhenCount,
  Group,
  Link,
  Wrap,
  Width = 12,
}
export const enum ConditionColumn {
  Base,
  Offset,
  Strips,
  Width = 4,
}
export const enum SlotColumn {
  Link,
  Local,
  Exists,
  Settable,
  Continuous,
  Reports,
  Needs,
  ToggleOnly,
  Taps,
  Touch,
  Nudge,
  Width,
}
export const enum OutputColumn {
  Link,
  Local,
  Shows,
  Mover,
  Part,
  Pick,
  Part2,
  Pick2,
  Falls,
  Width,
}

/** What an output shows of the binding that it follows. */
export const enum Pick {
  Own,
  Name,
  Meter,
}

/** What hangs on the value of a slot, as bits. */
export const enum Watch {
  Condition = 1,
  Focus = 2,
}
