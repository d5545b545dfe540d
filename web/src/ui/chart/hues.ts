import { isDark } from '../theme';

const LINE_HUES = ['#5e7320', '#2f6690', '#b5602a', '#8a4f8f', '#0f7c74', '#a08000', '#a3123d', '#54606a'];
const DARK_HUES = ['#b3cc68', '#84b9e0', '#f2a06b', '#cf9bd4', '#5cc7bd', '#dcb14a', '#ff7a9a', '#a9b6c0'];

export const HUES = LINE_HUES.length;

export const lineHue = (i: number) => (isDark() ? DARK_HUES : LINE_HUES)[i % LINE_HUES.length]!;
