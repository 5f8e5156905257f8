# docs/accuracy-landmarks.svg from the table that `jolly-kestrel-cli demo accuracy` prints; TABLE and PICTURE are
# given by ./kestrel accuracy. Columns of TABLE, split at bars and slashes: film, height, found, visible median and
# 95th hundredth, hidden median and 95th hundredth, share inside 95 %.
set terminal svg size 900,820 font "sans,12" background "#fbf6ea"
set output PICTURE
set datafile separator "\t"
stats TABLE using 2 nooutput
set xrange [-0.8:STATS_records - 0.2]
set multiplot
set border 3 linecolor "#3c4a57"
set xtics nomirror rotate by 60 right noenhanced font ",9"
set ytics nomirror
set grid ytics linecolor "#d9d2c0"
set key top left
set style fill solid 0.6
set lmargin 9
set rmargin 2

set origin 0, 0.56
set size 1, 0.43
set xtics format ""
set title "Landmark errors without help, % of standing height: from the median to the 95th hundredth"
set logscale y
set yrange [0.5:150]
plot TABLE using 0:4:4:5:5:xtic("") with candlesticks linecolor "#4a6a85" title "visible", \
     TABLE using ($0 + 0.25):6:6:7:7 with candlesticks linecolor "#9a5b34" title "covered", \
     2.5 with lines dashtype 2 linecolor "#4a6a85" title "bar, visible", \
     6 with lines dashtype 3 linewidth 2 linecolor "#9a5b34" title "bar, covered"

set origin 0, 0
set size 1, 0.56
unset logscale y
set yrange [50:100]
set title "Errors inside their stated 95 % interval, %; the bar is 90 to 98"
plot TABLE using 0:8:xtic(1) with impulses linewidth 6 linecolor "#4a6a85" notitle, \
     90 with lines dashtype 2 linecolor "#9a5b34" notitle, \
     98 with lines dashtype 2 linecolor "#9a5b34" notitle
unset multiplot
