/** Largest scan or drawing that is taken in, bytes. */
export const MAX_SCAN_BYTES = 20 * 1024 * 1024;

/** A scan as it is kept: documents name it by its hash. */
export interface KeptScan {
  scan: string;
  type: 'application/pdf' | 'image/jpeg';
}

export const scanAddress = (scan: string): string => `/api/scans/${scan}`;
