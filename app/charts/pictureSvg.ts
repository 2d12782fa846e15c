/** What of an element's look stands in its style on a page, and has to stand in the file itself. */
const STYLES = [
  ...['fill', 'fill-opacity', 'stroke', 'stroke-opacity', 'stroke-width', 'stroke-dasharray', 'stroke-linejoin'],
  ...['font-family', 'font-size', 'font-weight', 'paint-order', 'opacity', 'text-anchor'],
]

/**
 * A picture that is drawn as SVG on the page, as a file that stands by itself.
 * @param title stands in the file as its title
 */
export function pictureSvg(picture: SVGSVGElement, title: string): string {
  const copy = picture.cloneNode(true) as SVGSVGElement
  const own = [picture, ...picture.querySelectorAll('*')]
  const copied = [copy, ...copy.querySelectorAll('*')]
  own.forEach((element, index) => {
    const style = getComputedStyle(element)
    const to = copied[index] as SVGElement
    for (const name of STYLES) to.style.setProperty(name, style.getPropertyValue(name))
    for (const name of ['class', 'tabindex', 'role', 'aria-label', 'aria-pressed', 'aria-describedby', 'data-at'])
      to.removeAttribute(name)
  })
  const named = document.createElementNS('http://www.w3.org/2000/svg', 'title')
  named.textContent = title
  copy.prepend(named)
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  return new XMLSerializer().serializeToString(copy)
}
