/** So long a launch goes on. */
export const launchHours = 8;
