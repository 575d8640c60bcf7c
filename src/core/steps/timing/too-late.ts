export const TOO_LATE = 'The end would pass the latest tick that a file can hold.';
