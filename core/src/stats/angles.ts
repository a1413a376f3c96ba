/** One degree, rad. */
export const RAD = Math.PI / 180;

export const radians = (degrees: number): number => (degrees * Math.PI) / 180;

export const degrees = (radians: number): number => (radians * 180) / Math.PI;
