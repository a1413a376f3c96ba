import { describe, expect, it } from 'vitest';
import { readStars, summaryOf } from '../src/frame/index.ts';
import { cornerStars, focuserAt, solvedScale, strangerIn, takenWith } from '../src/experiment/index.ts';
import { sketched } from './frames.ts';

describe('what a frame says of how it was taken', () => {
  const { frame } = sketched({ optics: { spacingErrorMm: 1.5 } });
  const withKeywords = (keywords: Record<string, string | number>) =>
    summaryOf(readStars(frame), { ...frame, keywords: new Map(Object.entries(keywords)) });

  it('camera, binning and focuser come from the header, and only what is used of it is kept', () => {
    const summary = withKeywords({ INSTRUME: ' Camera A ', XBINNING: 2, FOCUSPOS: 12345, OBSERVER: 'nobody' });
    expect(takenWith(summary)).toEqual({ camera: 'Camera A', binning: 2 });
    expect(focuserAt(summary, 'frame.fits')).toBe(12345);
    expect(summary.header).not.toHaveProperty('OBSERVER');
  });

  it('the focuser’s position is read from a name where the header is silent, and is not guessed from other numbers', () => {
    expect(focuserAt({}, 'sweep_focus_-250.fits')).toBe(-250);
    expect(focuserAt({}, 'Sweep, position 1200')).toBe(1200);
    expect(focuserAt({}, 'light_0007.fits')).toBeUndefined();
  });

  it('a frame of another camera or binning is a stranger, one that says nothing is not', () => {
    const series = [{ camera: 'A', binning: 1 }, {}];
    expect(strangerIn(series, { camera: 'A', binning: 1 })).toBeUndefined();
    expect(strangerIn(series, {})).toBeUndefined();
    expect(strangerIn(series, { camera: 'B', binning: 1 })).toMatch(/“B”.*“A”/);
    expect(strangerIn(series, { camera: 'A', binning: 2 })).toMatch(/2 × 2.*1 × 1/);
  });

  it('the scale of a solved frame, binning taken out', () => {
    // 1 second of arc a pixel, turned by 30°.
    const [c, s] = [Math.cos(Math.PI / 6) / 3600, Math.sin(Math.PI / 6) / 3600];
    const solved = withKeywords({ XBINNING: 2, CD1_1: -c, CD1_2: s, CD2_1: s, CD2_2: c });
    expect(solvedScale(solved)!.arcsecPerPx).toBeCloseTo(0.5, 9);
    expect(solvedScale(withKeywords({}))).toBeUndefined();
  });

  it('the usual star of each corner is stretched along its diagonal, or across it', () => {
    const corners = cornerStars(summaryOf(readStars(frame), frame));
    const angles = corners.map((corner) => corner!.angleDeg);
    expect(corners.every((corner) => corner!.ellipticity > 0.1)).toBe(true);
    // Corners of one diagonal are stretched the same way, those of the other as in a mirror.
    const apart = (a: number, b: number): number => Math.abs(((((a - b) % 180) + 270) % 180) - 90);
    expect(apart(angles[0]!, angles[3]!)).toBeLessThan(15);
    expect(apart(angles[0]!, -angles[1]!)).toBeLessThan(15);
    expect(cornerStars({ widthPx: 100, heightPx: 100, bottomUp: true, stars: [] })).toEqual([null, null, null, null]);
  });
});
