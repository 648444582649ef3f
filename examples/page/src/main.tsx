import { render } from 'preact'
import { Fair } from './fair.tsx'

const place = document.getElementById('fair')
if (place !== null) render(<Fair />, place)
