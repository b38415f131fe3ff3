export { ActMenu } from './act-menu';
export { Choice, type Option } from './choice';
export { NumberField } from './number-field';
export { OneOf } from './one-of';
export { Share } from './share';
export { Switch } from './switch';
export { TextField } from './text-field';
