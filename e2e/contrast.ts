import type { Page } from '@playwright/test';

/**
 * Every text of a page, drawings included, whose contrast to what lies under it is below 4.5, or 3 where it is large
 * (WCAG 2.2, 1.4.3). Shapes of a drawing that lie under its words are not looked at.
 */
export const lowContrast = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const canvas = document.createElement('canvas');
    canvas.width = canvas.height = 1;
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    type Layer = readonly [color: string, opacity: number];
    const painted = (layers: readonly Layer[]): number[] => {
      for (const [color, opacity] of [['#fff', 1] as const, ...layers]) {
        context.globalAlpha = opacity;
        context.fillStyle = color;
        context.fillRect(0, 0, 1, 1);
      }
      return [...context.getImageData(0, 0, 1, 1).data].slice(0, 3);
    };
    const luminance = (rgb: readonly number[]): number => {
      const [red, green, blue] = rgb.map((value) => {
        const share = value / 255;
        return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
      });
      return 0.2126 * red! + 0.7152 * green! + 0.0722 * blue!;
    };
    const NOT_TEXT = '.sr-only, [disabled], [aria-disabled=true], select, script, style, title';
    const found = new Set<string>();
    for (const element of document.querySelectorAll<HTMLElement | SVGElement>('body *')) {
      const text = [...element.childNodes].find((node) => node.nodeType === 3 && node.textContent!.trim() !== '');
      const { width, height } = element.getBoundingClientRect();
      if (!text || width < 2 || height < 2 || element.closest(NOT_TEXT)) continue;
      if (!element.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
      const style = getComputedStyle(element);
      const inDrawing = element instanceof SVGElement;
      const under: Layer[] = [];
      let opacity = 1;
      for (let each: Element | null = element; each; each = each.parentElement) {
        const own = getComputedStyle(each);
        opacity *= Number(own.opacity);
        if (!(each instanceof SVGElement)) under.unshift([own.backgroundColor, 1]);
      }
      const [light, dark] = [painted(under), painted([...under, [inDrawing ? style.fill : style.color, opacity]])]
        .map(luminance)
        .sort((a, b) => b - a);
      const ratio = (light! + 0.05) / (dark! + 0.05);
      const size = parseFloat(style.fontSize);
      const large = size >= 24 || (size >= 18.66 && Number(style.fontWeight) >= 700);
      if (ratio < (large ? 3 : 4.5) - 0.005) found.add(`${text.textContent!.trim().slice(0, 40)}: ${ratio.toFixed(2)}`);
    }
    return [...found];
  });
