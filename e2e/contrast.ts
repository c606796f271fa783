import type { Page } from '@playwright/test'

/**
 * Words on buttons whose contrast is below 4.5 : 1 (WCAG 2.2, 1.4.3, by its definitions of relative luminance and
 * contrast ratio). The accessibility checker skips buttons that have a layer above their words.
 */
export function paleButtons(page: Page): Promise<string[]> {
  // Sought and looked at in one step: what is drawn anew between two would have no colours.
  return page.evaluate(() => {
    const buttons = [...document.querySelectorAll('.v-btn:not(:disabled)')]
    const channels = (colour: string): number[] => (colour.match(/[\d.]+/g) ?? []).map(Number)
    const luminance = (colour: string): number => {
      const [r = 0, g = 0, b = 0] = channels(colour).map((each) => {
        const share = each / 255
        return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
      })
      return 0.2126 * r + 0.7152 * g + 0.0722 * b
    }
    const behind = (element: Element | null): string => {
      if (!element) return 'rgb(255, 255, 255)'
      const colour = getComputedStyle(element).backgroundColor
      return (channels(colour)[3] ?? 1) === 1 ? colour : behind(element.parentElement)
    }
    return buttons.flatMap((button) => {
      const [one, other] = [luminance(getComputedStyle(button).color), luminance(behind(button))]
      const ratio = (Math.max(one, other) + 0.05) / (Math.min(one, other) + 0.05)
      return ratio < 4.5 ? [`${button.textContent.trim()}: ${ratio.toFixed(2)}`] : []
    })
  })
}
