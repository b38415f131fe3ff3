/** Parameter slots of what has focus, and how many scenes the clip grid has. */
export const FOCUS_SLOTS = 8;
export const SCENES = 8;
export const MARKERS = 8;
export const USER_ACTIONS = 8;
export const AUTOMATION_STATES = ['Off', 'Read', 'Write', 'Touch', 'Latch'] as const;
export const VIEWS = ['Mixer', 'Focus', 'Clips', 'Song'] as const;
export const CLIP_STATES = ['Empty', 'Stopped', 'Waiting', 'Playing', 'Recording'] as const;
