import { render } from 'preact'
import './fair.css'
import { Fair } from './fair.tsx'

const place = document.getElementById('fair')
if (place !== null) render(<Fair />, place)
